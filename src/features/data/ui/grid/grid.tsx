"use client";
/**
 * The grid: arrow keys move, Enter opens a cell, Enter keeps, Esc leaves; a block is chosen with Shift, copied and pasted as in a
 * spreadsheet, filled down with Ctrl+D. Everything can be undone. Of a long table only the rows in sight are drawn.
 */
import { useRouter } from "next/navigation";
import { type ReactNode, useCallback, useEffect, useRef, useState } from "react";
import type { SeenValue } from "@/core/schema/seen";
import type { View } from "@/data/views/views";
import type { Shown } from "@/features/data/ui/grid/layout";
import type { Rows } from "@/features/data/ui/grid/use-rows";
import { rememberView } from "../../cells";
import type { At } from "./block";
import { Columns } from "./columns";
import { ACTS_WIDTH, GridHead, GridTools, type Props } from "./grid-parts";
import { blockActs, keyIn } from "./keys";
import { BOX_WIDTH, shownColumns } from "./layout";
import { Row } from "./row";
import { Several } from "./several";
import { useCells } from "./use-cells";
import { ROW, useCursor } from "./use-cursor";
import { useRemoval } from "./use-removal";
import { useRows } from "./use-rows";

/** How the grid is left is how it is found again: told a moment after the last change. */
function useView(portal: string, tableId: string, atFirst: View): [View, (next: View) => void] {
  const [view, setViewState] = useState(atFirst);
  const telling = useRef<ReturnType<typeof setTimeout> | null>(null);
  const setView = useCallback(
    (next: View) => {
      setViewState(next);
      if (telling.current) clearTimeout(telling.current);
      telling.current = setTimeout(() => void rememberView(portal, tableId, "", { ...next, query: "" }).catch(() => {}), 150);
    },
    [portal, tableId],
  );
  return [view, setView];
}

export function Grid(p: Props) {
  const { portal, tableId, fields, locale } = p;
  const rows = useRows(p.rows, p.total, p.chunk, `${p.at}/rows${p.query ? `?${p.query}` : ""}`);
  const [view, setView] = useView(portal, tableId, p.view);
  const [panel, setPanel] = useState(false);
  const [filtering, setFiltering] = useState<string | null>(null);
  const [editing, setEditing] = useState<At | null>(null);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const router = useRouter();
  const frame = useRef<HTMLDivElement>(null);
  const columns = shownColumns(fields, view);
  const cells = useCells({ portal, tableId, fields, rows, locale });
  const removal = useRemoval({ portal, tableId, singular: p.singular, rows });
  const cursor = useCursor(frame, rows.total, columns.length);
  const { block, first, last } = cursor;
  const { want } = rows;
  useEffect(() => want(first, last), [want, first, last]);
  const acts = blockActs({ rows, columns, cells, cursor, locale });
  const busy = cells.busy || removal.busy;

  const leave = (at: At): void => {
    setEditing(null);
    cursor.focus(at.row, at.col);
  };
  const choose = (id: string, on: boolean): void =>
    setChosen((all) => {
      const next = new Set(all);
      if (on) next.add(id);
      else next.delete(id);
      return next;
    });
  const rowAt = (i: number) => {
    const row = rows.at(i);
    return (
      <Row
        key={row?.id ?? `unread ${i}`}
        i={i}
        row={row}
        columns={columns}
        block={block}
        editing={editing?.row === i ? editing.col : null}
        chosen={row !== undefined && chosen.has(row.id)}
        portal={portal}
        tableId={tableId}
        singular={p.singular}
        locale={locale}
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
  };

  const width = columns.reduce((n, c) => n + c.width, BOX_WIDTH + ACTS_WIDTH);
  return (
    <div>
      <GridTools panel={panel} setPanel={setPanel} busy={busy} cells={cells} rows={rows} locale={locale} />
      {panel && <Columns portal={portal} table={tableId} fields={fields} view={view} setView={setView} named={p.named} query={p.query} />}
      {chosen.size > 0 && (
        <Several
          portal={portal}
          table={tableId}
          fields={fields}
          ids={[...chosen]}
          onSet={(f, text) =>
            cells.settle([...chosen].map((record) => ({ record, seen: null, cells: [{ field: f.id, texts: text === "" ? [] : [text] }] })))
          }
          onLeave={() => setChosen(new Set())}
        />
      )}
      {removal.question}
      {rows.broken && (
        <p role="alert" className="alert alert-error rounded-none">
          Some rows did not arrive.{" "}
          <button type="button" className="link" onClick={() => want(first, last)}>
            Ask again
          </button>
        </p>
      )}
      <div
        ref={frame}
        className="grid-frame"
        onScroll={(e) => cursor.scrolled(e.currentTarget)}
        onCopy={(e) => !editing && acts.copy(e)}
        onPaste={(e) => !editing && acts.paste(e)}
      >
        <table className="grid-table cells" style={{ width }} aria-rowcount={rows.total + 1}>
          <GridHead
            columns={columns}
            portal={portal}
            p={p}
            filtering={filtering}
            setFiltering={setFiltering}
            router={router}
            setView={setView}
            fields={fields}
            view={view}
          />
          <GridRows first={first} columns={columns} last={last} rowAt={rowAt} rows={rows} />
        </table>
      </div>
    </div>
  );
}

interface GridRowsProps {
  readonly first: number;
  readonly columns: Shown[];
  readonly last: number;
  readonly rowAt: (i: number) => ReactNode;
  readonly rows: Rows;
}

/** The rows in sight, with room for the others. */
function GridRows({ first, columns, last, rowAt, rows }: GridRowsProps) {
  return (
    <tbody>
      {first > 0 && (
        <tr aria-hidden style={{ height: first * ROW }}>
          <td colSpan={columns.length + 2} />
        </tr>
      )}
      {Array.from({ length: Math.max(0, last - first + 1) }, (_, k) => rowAt(first + k))}
      {last < rows.total - 1 && (
        <tr aria-hidden style={{ height: (rows.total - 1 - last) * ROW }}>
          <td colSpan={columns.length + 2} />
        </tr>
      )}
    </tbody>
  );
}
