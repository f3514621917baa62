/** A block of cells as a spreadsheet takes it, and what comes from one as cells. */
import { toWords } from "@/core/exchange/present";
import type { Locale } from "@/core/schema/fields/kind";
import { isFiles } from "@/core/schema/seen";
import type { GridRow } from "../../queries";
import { type Block, blockText, readBlock } from "./block";
import type { Shown } from "./layout";
import { textsOf } from "./texts";

export function copied(block: Block, columns: readonly Shown[], rowAt: (i: number) => GridRow | undefined, locale: Locale): string {
  const lines: string[][] = [];
  for (let r = block.top; r <= block.bottom; r++)
    lines.push(
      columns.slice(block.left, block.right + 1).map(({ field: f }) => {
        const v = rowAt(r)?.fields[f.id];
        return f.options.target || f.options.choices || isFiles(v) ? toWords(f, v, locale) : (textsOf(f, v, locale)[0] ?? "");
      }),
    );
  return blockText(lines);
}

export interface Pasted {
  readonly block: Block;
  /** Null where nothing was pasted over that cell. */
  readonly texts: (row: number, col: number) => string[] | null;
}

/** One cell fills the whole block that is chosen; a block goes where it begins. Null where there is nothing to paste. */
export function pasted(text: string, chosen: Block): Pasted | null {
  const cells = readBlock(text);
  if (cells.length === 0) return null;
  if (cells.length === 1 && cells[0]!.length === 1) return { block: chosen, texts: () => [cells[0]![0]!] };
  const block = {
    top: chosen.top,
    left: chosen.left,
    bottom: chosen.top + cells.length - 1,
    right: chosen.left + Math.max(...cells.map((r) => r.length)) - 1,
  };
  return {
    block,
    texts: (r, c) => {
      const cell = cells[r - block.top]?.[c - block.left];
      return cell === undefined ? null : [cell];
    },
  };
}
