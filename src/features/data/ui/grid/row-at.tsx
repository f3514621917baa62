"use client";
import type { SeenValue } from "@/core/schema/seen";
import type { At } from "./block";
import type { Props } from "./grid-parts";
import { type blockActs, keyIn } from "./keys";
import type { Shown } from "./layout";
import { Row } from "./row";
import type { useCells } from "./use-cells";
import type { useCursor } from "./use-cursor";
import type { useRemoval } from "./use-removal";
import type { useRows } from "./use-rows";

interface RowAtProps {
  readonly p: Props;
  readonly i: number;
  readonly rows: ReturnType<typeof useRows>;
  readonly columns: readonly Shown[];
  readonly cells: ReturnType<typeof useCells>;
  readonly cursor: ReturnType<typeof useCursor>;
  readonly acts: ReturnType<typeof blockActs>;
  readonly editing: At | null;
  readonly setEditing: (at: At | null) => void;
  readonly chosen: ReadonlySet<string>;
  readonly choose: (id: string, on: boolean) => void;
  readonly leave: (at: At) => void;
  readonly removal: ReturnType<typeof useRemoval>;
}

/** One row: what its cells and keys do. */
export function RowAt({ p, i, rows, columns, cells, cursor, acts, editing, setEditing, chosen, choose, leave, removal }: RowAtProps) {
  const row = rows.at(i);
  return (
    <Row
      i={i}
      row={row}
      columns={columns}
      block={cursor.block}
      editing={editing?.row === i ? editing.col : null}
      chosen={row !== undefined && chosen.has(row.id)}
      portal={p.portal}
      tableId={p.tableId}
      singular={p.singular}
      locale={p.locale}
      whyAt={p.whyAt}
      removable={p.removable}
      onChoose={choose}
      onOpen={(col) => {
        cursor.put({ row: i, col }, false);
        setEditing({ row: i, col });
      }}
      onFocus={(col, extend) => cursor.put({ row: i, col }, extend)}
      onKeys={(e, col) =>
        !editing &&
        keyIn(e, {
          cursor,
          rows: rows.total,
          columns: columns.length,
          acts,
          undo: cells.undo,
          editable: row !== undefined && !columns[col]!.field.system,
          edit: () => setEditing({ row: i, col }),
        })
      }
      onKeep={(col, v: SeenValue, seen) => {
        cells.kept(i, columns[col]!.field, v, seen);
        leave({ row: i, col });
      }}
      onLeave={(col) => leave({ row: i, col })}
      onRemove={(r) => removal.remove(r, i)}
    />
  );
}
