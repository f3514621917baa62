/** What is done with the block of cells that is chosen, and by which keys. */
import type { ClipboardEvent, KeyboardEvent } from "react";
import type { Locale } from "@/core/schema/fields/kind";
import { copied, pasted } from "./clipboard";
import type { Shown } from "./layout";
import { textsOf } from "./texts";
import type { useCells } from "./use-cells";
import type { useCursor } from "./use-cursor";
import type { Rows } from "./use-rows";

type Cells = ReturnType<typeof useCells>;
type Cursor = ReturnType<typeof useCursor>;

/** Copy, paste, fill down, and empty, of the block that is chosen. */
export function blockActs(of: { rows: Rows; columns: readonly Shown[]; cells: Cells; cursor: Cursor; locale: Locale }) {
  const { rows, columns, cells, locale } = of;
  const { block } = of.cursor;
  return {
    copy(e: ClipboardEvent): void {
      e.preventDefault();
      e.clipboardData.setData("text/plain", copied(block, columns, rows.at, locale));
    },
    paste(e: ClipboardEvent): void {
      const found = pasted(e.clipboardData.getData("text/plain"), block);
      if (!found) return;
      e.preventDefault();
      cells.settle(cells.changesIn(found.block, columns, found.texts));
    },
    fillDown(): void {
      const top = rows.at(block.top);
      if (!top || block.top === block.bottom) return;
      const below = { ...block, top: block.top + 1 };
      const texts = (_: number, c: number): string[] => textsOf(columns[c]!.field, top.fields[columns[c]!.field.id], locale);
      cells.settle(cells.changesIn(below, columns, texts));
    },
    clear: (): void => cells.settle(cells.changesIn(block, columns, () => [])),
  };
}

/** What a key means in a cell that is not being edited. */
export function keyIn(
  e: KeyboardEvent<HTMLElement>,
  of: {
    cursor: Cursor;
    rows: number;
    columns: number;
    acts: ReturnType<typeof blockActs>;
    undo: () => void;
    editable: boolean;
    edit: () => void;
  },
): void {
  const { cursor, acts } = of;
  const moves: Record<string, [number, number]> = {
    ArrowDown: [1, 0],
    ArrowUp: [-1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
    PageDown: [cursor.page, 0],
    PageUp: [-cursor.page, 0],
    Home: [e.ctrlKey ? -of.rows : 0, -of.columns],
    End: [e.ctrlKey ? of.rows : 0, of.columns],
  };
  const command = e.ctrlKey || e.metaKey;
  const key = e.key.toLowerCase();
  const by = moves[e.key];
  const here = cursor.here.current;
  const does = by
    ? () => cursor.move({ row: here.row + by[0], col: here.col + by[1] }, e.shiftKey)
    : command && key === "d"
      ? acts.fillDown
      : command && key === "z"
        ? of.undo
        : key === "delete" || key === "backspace"
          ? acts.clear
          : null;
  if (does) {
    e.preventDefault();
    does();
    return;
  }
  const opens = key === "enter" || key === "f2" || (key.length === 1 && key !== " " && !command);
  if (!opens || !of.editable) return;
  if (key.length > 1) e.preventDefault();
  of.edit();
}
