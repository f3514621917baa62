"use client";
import { CloudAlert, Eye, Trash2 } from "lucide-react";
import type { KeyboardEvent } from "react";
import type { Locale } from "@/core/schema/fields/kind";
import type { SeenValue } from "@/core/schema/seen";
import { kindOf } from "@/core/schema/types";
import { FieldValue } from "@/ui/field-value";
import { Link } from "@/ui/link";
import type { GridRow } from "../../queries";
import { type Block, within } from "./block";
import { CellEditor } from "./cell-editor";
import type { Shown } from "./layout";

interface Props {
  i: number;
  /** Undefined while it is still to come. */
  row: GridRow | undefined;
  columns: readonly Shown[];
  block: Block;
  editing: number | null;
  chosen: boolean;
  portal: string;
  tableId: string;
  singular: string;
  locale: Locale;
  whyAt: string;
  removable: boolean;
  onChoose: (id: string, on: boolean) => void;
  onOpen: (col: number) => void;
  onFocus: (col: number, extend: boolean) => void;
  onKeys: (e: KeyboardEvent<HTMLElement>, col: number) => void;
  onKeep: (col: number, value: SeenValue, seen: string) => void;
  onLeave: (col: number) => void;
  onRemove: (row: GridRow) => void;
}

export function Row(p: Props) {
  const { i, row, columns, block } = p;
  const several = block.top !== block.bottom || block.left !== block.right;
  const thing = p.singular.toLowerCase();
  return (
    <tr className="group" aria-rowindex={i + 2}>
      <td className="frozen box" style={{ left: 0 }}>
        {row && (
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            aria-label={`Choose row ${i + 1}`}
            checked={p.chosen}
            onChange={(e) => p.onChoose(row.id, e.target.checked)}
          />
        )}
      </td>
      {columns.map(({ field: f, left }, col) => {
        const open = p.editing === col && row !== undefined;
        const marked = several && within(block, i, col);
        return (
          <td
            key={f.id}
            className={`${kindOf(f).numeric ? "num" : ""} ${left === null ? "" : "frozen"} ${open ? "overflow-visible!" : ""} ${marked ? "marked" : ""}`}
            style={left === null ? (open ? { position: "relative", zIndex: 3 } : undefined) : { left, ...(open ? { zIndex: 4 } : {}) }}
          >
            {!row ? (
              <span className="skeleton block h-4 w-2/3" aria-hidden />
            ) : open ? (
              <CellEditor
                portal={p.portal}
                tableId={p.tableId}
                recordId={row.id}
                seen={row.seen}
                field={f}
                value={row.fields[f.id] ?? null}
                locale={p.locale}
                onKeep={(v, seen) => p.onKeep(col, v, seen)}
                onLeave={() => p.onLeave(col)}
              />
            ) : (
              <button
                type="button"
                data-cell={`${i} ${col}`}
                aria-disabled={f.system || undefined}
                className={`-mx-1 block h-6.5 w-[calc(100%+0.5rem)] truncate rounded-sm px-1 ${f.system ? "cursor-default" : "cursor-text"} ${kindOf(f).numeric ? "text-right" : "text-left"}`}
                onKeyDown={(e) => p.onKeys(e, col)}
                onFocus={() => !several && p.onFocus(col, false)}
                onClick={(e) => (e.shiftKey || f.system ? p.onFocus(col, e.shiftKey) : p.onOpen(col))}
              >
                <span className="sr-only">{f.name}: </span>
                <FieldValue field={f} value={row.fields[f.id]} locale={p.locale} plain still filesAt={`/portals/${p.portal}`} />
                <span className="sr-only">{f.system ? ", set by Elkhorn" : ", change"}</span>
              </button>
            )}
          </td>
        );
      })}
      <RowButtons row={row} p={p} thing={thing} />
    </tr>
  );
}

const LATE_WORDS = {
  waiting: "A change has not arrived in another system: look why",
  asked: "A value was changed here and in another system: look",
} as const;

interface RowButtonsProps {
  readonly row: GridRow | undefined;
  readonly p: Props;
  readonly thing: string;
}

/** Who sees it, and its removal. */
function RowButtons({ row, p, thing }: RowButtonsProps) {
  return (
    <td className="acts">
      {row && (
        <>
          <Link
            href={`${p.whyAt}/${row.id}`}
            className={`btn btn-ghost btn-square size-7! ${row.late ? "text-accent" : "opacity-50 group-hover:opacity-100 focus:opacity-100"}`}
            aria-label={row.late ? LATE_WORDS[row.late] : `Who sees this ${thing}, and why`}
            title={row.late ? LATE_WORDS[row.late] : "Who sees it, and why"}
          >
            {row.late ? <CloudAlert size={14} aria-hidden /> : <Eye size={14} aria-hidden />}
          </Link>
          {p.removable && (
            <button
              type="button"
              className="btn btn-ghost btn-square size-7! opacity-50 group-hover:opacity-100 focus:opacity-100"
              aria-label={`Remove this ${thing}`}
              onClick={() => p.onRemove(row)}
            >
              <Trash2 size={14} aria-hidden />
            </button>
          )}
        </>
      )}
    </td>
  );
}
