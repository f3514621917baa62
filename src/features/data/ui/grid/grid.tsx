"use client";
/**
 * The grid: arrow keys move, Enter opens a cell, Enter keeps, Esc leaves; a block is chosen with Shift, copied and pasted as in a
 * spreadsheet, filled down with Ctrl+D. Everything can be undone. Of a long table only the rows in sight are drawn.
 */
import { Columns3 } from "lucide-react";
import { useRouter } from "next/navigation";
import { useCallback, useEffect, useRef, useState } from "react";
import type { Locale } from "@/core/schema/fields/kind";
import type { SeenValue } from "@/core/schema/seen";
import type { Field } from "@/core/schema/types";
import type { View } from "@/data/views/views";
import { rememberView } from "../../cells";
import type { GridRow } from "../../queries";
import type { At } from "./block";
import { Columns } from "./columns";
import { Head } from "./head";
import { blockActs, keyIn } from "./keys";
import { BOX_WIDTH, shownColumns, withWidth } from "./layout";
import { Row } from "./row";
import { Several } from "./several";
import { useCells } from "./use-cells";
import { ROW, useCursor } from "./use-cursor";
import { useRemoval } from "./use-removal";
import { useRows } from "./use-rows";

interface Props {
  portal: string;
  tableId: string;
  /** The grid's own address, without a query. */
  at: string;
  singular: string;
  fields: Field[];
  rows: GridRow[];
  total: number;
  chunk: number;
  locale: Locale;
  sort: { field: string; descending: boolean } | null;
  sortHrefs: Record<string, string>;
  filters: { field: string; operator: string; texts: string[] }[];
  /** The query of the address, as it is sorted and filtered now. */
  query: string;
  view: View;
  named: { id: string; name: string; href: string }[];
  removable: boolean;
  /** Where each record's page of who sees it begins. */
  whyAt: string;
}

/** The cell of the acts on a row. */
const ACTS_WIDTH = 76;

/** The address of the grid with another filter of one column. */
function filteredAt(p: Pick<Props, "at" | "query">, field: Field, filter: { operator: string; texts: string[] } | null): string {
  const params = new URLSearchParams(p.query);
  const others = params.getAll("f").filter((t) => !t.startsWith(`${field.slug}.`));
  params.delete("f");
  for (const t of others) params.append("f", t);
  if (filter) params.append("f", [field.slug, filter.operator, filter.texts.map(encodeURIComponent).join("~")].join("."));
  return `${p.at}${params.size > 0 ? `?${params}` : ""}`;
}

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
      <div className="flex flex-wrap items-center gap-3 border-b border-base-300 px-3 py-1.5">
        <button type="button" className="btn btn-ghost btn-sm" aria-expanded={panel} onClick={() => setPanel(!panel)}>
          <Columns3 size={15} aria-hidden /> Columns and views
        </button>
        <button type="button" className="btn btn-ghost btn-sm" disabled={busy || cells.undoable === 0} onClick={cells.undo}>
          Undo{cells.undoable > 0 && ` (${cells.undoable})`}
        </button>
        {busy && <span className="loading loading-spinner loading-xs" role="status" aria-label="Keeping" />}
        <span className="quiet ml-auto text-sm tabular-nums">
          {rows.total.toLocaleString(locale.locale)} {rows.total === 1 ? "record" : "records"}
        </span>
      </div>
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
          <thead>
            <tr>
              <th scope="col" className="frozen" style={{ width: BOX_WIDTH, left: 0 }}>
                <span className="sr-only">Chosen</span>
              </th>
              {columns.map((c) => (
                <Head
                  key={c.field.id}
                  portal={portal}
                  column={c}
                  sorted={p.sort?.field === c.field.id ? (p.sort.descending ? "down" : "up") : null}
                  sortHref={p.sortHrefs[c.field.id]}
                  filter={(p.filters.find((f) => f.field === c.field.id) as never) ?? null}
                  open={filtering === c.field.id}
                  setOpen={(on) => setFiltering(on ? c.field.id : null)}
                  setFilter={(field, filter) => {
                    setFiltering(null);
                    router.push(filteredAt(p, field, filter));
                  }}
                  setWidth={(field, w) => setView(withWidth(fields, view, field, w))}
                />
              ))}
              <th scope="col" className="acts" style={{ width: ACTS_WIDTH }}>
                <span className="sr-only">Who sees it{p.removable && ", and removing it"}</span>
              </th>
            </tr>
          </thead>
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
        </table>
      </div>
    </div>
  );
}
