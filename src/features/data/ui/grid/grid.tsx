"use client";
/**
 * The grid: arrow keys move, Enter opens a cell, Enter keeps, Esc leaves; a block is chosen with Shift, copied and pasted as in a
 * spreadsheet, filled down with Ctrl+D. Everything can be undone. Of a long table only the rows in sight are drawn.
 */
import { Columns3 } from "lucide-react";
import { useRouter } from "next/navigation";
import { type ClipboardEvent, type KeyboardEvent, useCallback, useEffect, useRef, useState, useTransition } from "react";
import { toast } from "sonner";
import { toWords } from "@/core/exchange/present";
import type { Locale } from "@/core/schema/fields/kind";
import { isFiles, type SeenValue } from "@/core/schema/seen";
import { type Field, kindOf } from "@/core/schema/types";
import type { View } from "@/data/views/views";
import { answered } from "@/ui/answered";
import { removeFromGrid, undoRemove } from "../../actions";
import { type CellChanges, changeCells, rememberView } from "../../cells";
import type { GridRow } from "../../queries";
import { type At, type Block, blockOf, blockText, readBlock } from "./block";
import { Columns } from "./columns";
import { Head } from "./head";
import { shownColumns, withWidth } from "./layout";
import { Row } from "./row";
import { Several } from "./several";
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

const ROW = 37;
const BEYOND = 12;
/** What undo puts back: the texts that cells had. */
type Undo = CellChanges["records"];

const textsOf = (f: Field, v: SeenValue | undefined, l: Locale): string[] =>
  v === null || v === undefined ? [] : kindOf(f).texts(v, f, l.timeZone);

export function Grid(p: Props) {
  const { portal, tableId, fields, locale } = p;
  const rows = useRows(p.rows, p.total, p.chunk, `${p.at}/rows${p.query ? `?${p.query}` : ""}`);
  const [view, setViewState] = useState(p.view);
  const [panel, setPanel] = useState(false);
  const [filtering, setFiltering] = useState<string | null>(null);
  const [editing, setEditing] = useState<At | null>(null);
  const [from, setFrom] = useState<At>({ row: 0, col: 0 });
  const [to, setTo] = useState<At>({ row: 0, col: 0 });
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  /** A record whose removal would touch others: said before it is done. */
  const [asked, setAsked] = useState<{ row: GridRow; message: string } | null>(null);
  const [undos, setUndos] = useState<Undo[]>([]);
  const [scroll, setScroll] = useState({ top: 0, height: 620 });
  const [busy, start] = useTransition();
  const router = useRouter();
  const frame = useRef<HTMLDivElement>(null);
  const cursor = useRef<At>({ row: 0, col: 0 });
  const columns = shownColumns(fields, view);
  const block = blockOf(from, to);
  const first = Math.max(0, Math.floor(scroll.top / ROW) - BEYOND);
  const last = Math.min(rows.total - 1, Math.ceil((scroll.top + scroll.height) / ROW) + BEYOND);
  const { want } = rows;
  useEffect(() => want(first, last), [want, first, last]);
  useEffect(() => {
    if (frame.current) setScroll((s) => ({ ...s, height: frame.current!.clientHeight }));
  }, []);

  // How the grid is left is how it is found again: told a moment after the last change.
  const telling = useRef<ReturnType<typeof setTimeout> | null>(null);
  const setView = useCallback(
    (next: View) => {
      setViewState(next);
      if (telling.current) clearTimeout(telling.current);
      telling.current = setTimeout(() => void rememberView(portal, tableId, "", { ...next, query: "" }).catch(() => {}), 150);
    },
    [portal, tableId],
  );

  const focus = (row: number, col: number): void => {
    const at = { row: Math.max(0, Math.min(rows.total - 1, row)), col: Math.max(0, Math.min(columns.length - 1, col)) };
    const box = frame.current;
    if (box) {
      const top = at.row * ROW;
      if (top < box.scrollTop) box.scrollTop = top;
      else if (top + 2 * ROW > box.scrollTop + box.clientHeight - ROW) box.scrollTop = top + 3 * ROW - box.clientHeight;
    }
    // After the rows in sight are drawn anew.
    requestAnimationFrame(() =>
      requestAnimationFrame(() => document.querySelector<HTMLElement>(`[data-cell="${at.row} ${at.col}"]`)?.focus()),
    );
  };
  const move = (at: At, extend: boolean): void => {
    const next = { row: Math.max(0, Math.min(rows.total - 1, at.row)), col: Math.max(0, Math.min(columns.length - 1, at.col)) };
    cursor.current = next;
    setTo(next);
    if (!extend) setFrom(next);
    focus(next.row, next.col);
  };

  /** Cells of loaded rows that people may set. */
  const settle = (records: CellChanges["records"], undoable = true): void =>
    start(async () => {
      const before = new Map(records.map((r) => [r.record, r.cells.map((c) => c.field)]));
      const was: Undo = [];
      for (let i = 0; i < rows.total; i++) {
        const row = rows.at(i);
        const of = row && before.get(row.id);
        if (row && of)
          was.push({
            record: row.id,
            seen: null,
            cells: of.map((id) => ({ field: id, texts: textsOf(fields.find((f) => f.id === id)!, row.fields[id], locale) })),
          });
      }
      const answer = await answered(changeCells(portal, { table: tableId, records }));
      if (!answer) return;
      for (const r of answer.rows) rows.put(r);
      const changed = new Set(answer.rows.map((r) => r.id));
      if (undoable && changed.size > 0) setUndos((all) => [...all, was.filter((w) => changed.has(w.record))]);
      if (answer.problems.length === 0) return;
      const [one] = answer.problems;
      const more = answer.problems.length > 1 ? ` And ${answer.problems.length - 1} more.` : "";
      toast.error(`${one!.message}${more}`, { duration: 15_000 });
    });
  const undo = (): void => {
    const latest = undos.at(-1);
    if (!latest) return;
    setUndos((all) => all.slice(0, -1));
    settle(latest, false);
  };

  const cellsOf = (b: Block, texts: (row: number, col: number) => string[] | null): CellChanges["records"] => {
    const records: CellChanges["records"] = [];
    for (let r = b.top; r <= b.bottom; r++) {
      const row = rows.at(r);
      if (!row) continue;
      const cells = [];
      for (let c = b.left; c <= b.right; c++) {
        const f = columns[c]?.field;
        const t = f && !f.system ? texts(r, c) : null;
        if (f && t) cells.push({ field: f.id, texts: t });
      }
      if (cells.length > 0) records.push({ record: row.id, seen: row.seen, cells });
    }
    return records;
  };
  const fillDown = (): void => {
    const top = rows.at(block.top);
    if (!top || block.top === block.bottom) return;
    settle(cellsOf({ ...block, top: block.top + 1 }, (_, c) => textsOf(columns[c]!.field, top.fields[columns[c]!.field.id], locale)));
  };
  const clear = (): void => settle(cellsOf(block, () => []));
  const copy = (e: ClipboardEvent): void => {
    if (editing) return;
    e.preventDefault();
    const lines: string[][] = [];
    for (let r = block.top; r <= block.bottom; r++)
      lines.push(
        columns.slice(block.left, block.right + 1).map(({ field: f }) => {
          const v = rows.at(r)?.fields[f.id];
          return f.options.target || f.options.choices || isFiles(v) ? toWords(f, v, locale) : (textsOf(f, v, locale)[0] ?? "");
        }),
      );
    e.clipboardData.setData("text/plain", blockText(lines));
  };
  const paste = (e: ClipboardEvent): void => {
    if (editing) return;
    const cells = readBlock(e.clipboardData.getData("text/plain"));
    if (cells.length === 0) return;
    e.preventDefault();
    // One cell fills the whole block that is chosen; a block goes where it begins.
    const alone = cells.length === 1 && cells[0]!.length === 1;
    const at = alone
      ? block
      : {
          top: block.top,
          left: block.left,
          bottom: block.top + cells.length - 1,
          right: block.left + Math.max(...cells.map((r) => r.length)) - 1,
        };
    settle(
      cellsOf(at, (r, c) =>
        alone ? [cells[0]![0]!] : cells[r - at.top]?.[c - at.left] === undefined ? null : [cells[r - at.top]![c - at.left]!],
      ),
    );
  };

  const keys = (e: KeyboardEvent<HTMLElement>, at: At): void => {
    if (editing) return;
    const page = Math.max(1, Math.floor(scroll.height / ROW) - 2);
    const moves: Record<string, [number, number]> = {
      ArrowDown: [1, 0],
      ArrowUp: [-1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
      PageDown: [page, 0],
      PageUp: [-page, 0],
      Home: [e.ctrlKey ? -rows.total : 0, -columns.length],
      End: [e.ctrlKey ? rows.total : 0, columns.length],
    };
    const by = moves[e.key];
    const command = e.ctrlKey || e.metaKey;
    if (by) {
      e.preventDefault();
      // From where the last key led: the focus follows a moment later.
      move({ row: cursor.current.row + by[0], col: cursor.current.col + by[1] }, e.shiftKey);
    } else if (command && e.key.toLowerCase() === "d") {
      e.preventDefault();
      fillDown();
    } else if (command && e.key.toLowerCase() === "z") {
      e.preventDefault();
      undo();
    } else if (e.key === "Delete" || e.key === "Backspace") {
      e.preventDefault();
      clear();
    } else if (
      (e.key === "Enter" || e.key === "F2" || (e.key.length === 1 && e.key !== " " && !command)) &&
      rows.at(at.row) &&
      !columns[at.col]!.field.system
    ) {
      if (e.key.length > 1) e.preventDefault();
      setEditing(at);
    }
  };

  const keep = (at: At, value: SeenValue, seen: string): void => {
    const { field } = columns[at.col]!;
    const row = rows.at(at.row);
    if (row) {
      const was = textsOf(field, row.fields[field.id], locale);
      setUndos((all) => [...all, [{ record: row.id, seen: null, cells: [{ field: field.id, texts: was }] }]]);
      rows.put({ ...row, seen, fields: { ...row.fields, [field.id]: value } });
    }
    leave(at);
  };
  const leave = (at: At): void => {
    setEditing(null);
    focus(at.row, at.col);
  };

  const remove = (row: GridRow, i: number, sure = false): void =>
    start(async () => {
      const done = await answered(removeFromGrid(portal, tableId, row.id, sure));
      if (!done) return;
      if (!done.ok) {
        setAsked(done.ask ? { row, message: done.message } : null);
        if (!done.ask) toast.error(done.message);
        return;
      }
      setAsked(null);
      rows.drop(row.id);
      const bringBack = (): void =>
        start(async () => {
          const undone = await answered(undoRemove(portal, row.id));
          if (!undone) return;
          if (undone.ok) {
            toast.success(`The ${p.singular.toLowerCase()} is back, with all that pointed to it.`);
            rows.back(row, i);
            router.refresh();
          } else toast.error(undone.message, { duration: 15_000 });
        });
      toast(done.message, { duration: 60_000, closeButton: true, action: { label: "Undo", onClick: bringBack } });
    });

  const setFilter = (field: Field, filter: { operator: string; texts: string[] } | null): void => {
    setFiltering(null);
    const params = new URLSearchParams(p.query);
    const others = params.getAll("f").filter((t) => !t.startsWith(`${field.slug}.`));
    params.delete("f");
    for (const t of others) params.append("f", t);
    if (filter) params.append("f", [field.slug, filter.operator, filter.texts.map(encodeURIComponent).join("~")].join("."));
    router.push(`${p.at}${params.size > 0 ? `?${params}` : ""}`);
  };

  const width = columns.reduce((n, c) => n + c.width, 38 + 76);
  return (
    <div>
      <div className="flex flex-wrap items-center gap-3 border-b border-base-300 px-3 py-1.5">
        <button type="button" className="btn btn-ghost btn-sm" aria-expanded={panel} onClick={() => setPanel(!panel)}>
          <Columns3 size={15} aria-hidden /> Columns and views
        </button>
        <button type="button" className="btn btn-ghost btn-sm" disabled={busy || undos.length === 0} onClick={undo}>
          Undo{undos.length > 0 && ` (${undos.length})`}
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
            settle([...chosen].map((record) => ({ record, seen: null, cells: [{ field: f.id, texts: text === "" ? [] : [text] }] })))
          }
          onLeave={() => setChosen(new Set())}
        />
      )}
      {asked && (
        <div
          role="alertdialog"
          aria-label="Before it is removed"
          className="flex flex-wrap items-center gap-3 border-b border-base-300 bg-base-200 px-4 py-3"
        >
          <span className="mr-auto">{asked.message}</span>
          <button type="button" className="btn btn-sm" onClick={() => remove(asked.row, 0, true)}>
            Remove it all the same
          </button>
          <button type="button" className="btn btn-ghost btn-sm" onClick={() => setAsked(null)}>
            Leave it
          </button>
        </div>
      )}
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
        onScroll={(e) => setScroll({ top: e.currentTarget.scrollTop, height: e.currentTarget.clientHeight })}
        onCopy={copy}
        onPaste={paste}
      >
        <table className="grid-table cells" style={{ width }} aria-rowcount={rows.total + 1}>
          <thead>
            <tr>
              <th scope="col" className="frozen" style={{ width: 38, left: 0 }}>
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
                  setFilter={setFilter}
                  setWidth={(field, w) => setView(withWidth(fields, view, field, w))}
                />
              ))}
              <th scope="col" className="acts" style={{ width: 76 }}>
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
            {Array.from({ length: Math.max(0, last - first + 1) }, (_, k) => first + k).map((i) => {
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
                  onChoose={(id, on) =>
                    setChosen((all) => {
                      const next = new Set(all);
                      if (on) next.add(id);
                      else next.delete(id);
                      return next;
                    })
                  }
                  onOpen={(col) => {
                    cursor.current = { row: i, col };
                    setFrom({ row: i, col });
                    setTo({ row: i, col });
                    setEditing({ row: i, col });
                  }}
                  onFocus={(col, extend) => {
                    cursor.current = { row: i, col };
                    setTo({ row: i, col });
                    if (!extend) setFrom({ row: i, col });
                  }}
                  onKeys={(e, col) => keys(e, { row: i, col })}
                  onKeep={(col, v, seen) => keep({ row: i, col }, v, seen)}
                  onLeave={(col) => leave({ row: i, col })}
                  onRemove={(r) => remove(r, i)}
                />
              );
            })}
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
