"use client";
/**
 * The grid: arrow keys move, Enter opens a cell, Enter keeps, Esc leaves; a block is chosen with Shift, copied and pasted as in a
 * spreadsheet, filled down with Ctrl+D. Everything can be undone. Of a long table only the rows in sight are drawn.
 */
import { useRouter } from "next/navigation";
import type { Dispatch, SetStateAction } from "react";
import { type ReactNode, useCallback, useEffect, useRef, useState } from "react";
import type { Field } from "@/core/schema/types";
import type { View } from "@/data/views/views";
import { rememberView } from "../../cells";
import type { At } from "./block";
import { Columns } from "./columns";
import { ACTS_WIDTH, GridHead, GridTools, type Props } from "./grid-parts";
import { blockActs } from "./keys";
import type { Shown } from "./layout";
import { BOX_WIDTH, shownColumns } from "./layout";
import { RowAt } from "./row-at";
import { Several } from "./several";
import { useCells } from "./use-cells";
import { ROW, useCursor } from "./use-cursor";
import { useRemoval } from "./use-removal";
import type { Rows } from "./use-rows";
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
  const {
    portal,
    tableId,
    fields,
    locale,
    rows,
    view,
    setView,
    panel,
    setPanel,
    filtering,
    setFiltering,
    editing,
    chosen,
    setChosen,
    router,
    frame,
    columns,
    cells,
    removal,
    cursor,
    first,
    last,
    want,
    acts,
    busy,
    rowAt,
    width,
  } = useGrid(p);
  return (
    <div>
      <GridTools panel={panel} setPanel={setPanel} busy={busy} cells={cells} rows={rows} locale={locale} />
      {panel && <Columns portal={portal} table={tableId} fields={fields} view={view} setView={setView} named={p.named} query={p.query} />}
      {chosen.size > 0 && (
        <ChosenTools portal={portal} tableId={tableId} fields={fields} chosen={chosen} cells={cells} setChosen={setChosen} />
      )}
      {removal.question}
      {rows.broken && <AskAgain want={want} first={first} last={last} />}
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

/** Rows, what is chosen and edited, and what keys do. */
function useGrid(p: Props) {
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
  const { first, last } = cursor;
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
  const rowAt = (i: number) => (
    <RowAt
      key={rows.at(i)?.id ?? `unread ${i}`}
      p={p}
      i={i}
      {...{ rows, columns, cells, cursor, acts, editing, setEditing, chosen, choose, leave, removal }}
    />
  );
  const width = columns.reduce((n, c) => n + c.width, BOX_WIDTH + ACTS_WIDTH);
  return {
    portal,
    tableId,
    fields,
    locale,
    rows,
    view,
    setView,
    panel,
    setPanel,
    filtering,
    setFiltering,
    editing,
    chosen,
    setChosen,
    router,
    frame,
    columns,
    cells,
    removal,
    cursor,
    first,
    last,
    want,
    acts,
    busy,
    rowAt,
    width,
  };
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

interface AskAgainProps {
  readonly want: (from: number, to: number) => void;
  readonly first: number;
  readonly last: number;
}

/** Rows that did not come. */
function AskAgain({ want, first, last }: AskAgainProps) {
  return (
    <p role="alert" className="alert alert-error rounded-none">
      Some rows did not arrive.{" "}
      <button type="button" className="link" onClick={() => want(first, last)}>
        Ask again
      </button>
    </p>
  );
}

interface ChosenToolsProps {
  readonly portal: string;
  readonly tableId: string;
  readonly fields: Field[];
  readonly chosen: ReadonlySet<string>;
  readonly cells: Pick<ReturnType<typeof useCells>, "settle">;
  readonly setChosen: Dispatch<SetStateAction<ReadonlySet<string>>>;
}

/** What can be done with all that are chosen. */
function ChosenTools({ portal, tableId, fields, chosen, cells, setChosen }: ChosenToolsProps) {
  return (
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
  );
}
