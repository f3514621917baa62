"use client";
/** The matrix itself; only the rows that are looked at are drawn, so ten thousand scroll as ten do. */
import { useVirtualizer, type VirtualItem } from "@tanstack/react-virtual";
import { useRouter } from "next/navigation";
import { type MouseEvent, memo, useCallback, useMemo, useRef, useState } from "react";
import { type PersonStatus, statusWords } from "@/core/access/who/viewer";
import { Empty } from "@/ui/empty";
import { Link } from "@/ui/link";
import type { Line, Matrix } from "../sightlines";
import { SightCell } from "./sight-cell";
import type { Row } from "./sight-rows";
import { companyLabel, type Filters, type Range, rangeWords, rowsOf } from "./sight-rows";

const [GROUP, LINE] = [38, 50];

export function SightTable({
  at,
  matrix,
  filters,
  locale,
  which,
}: {
  at: string;
  which: string;
  matrix: Matrix;
  filters: Filters;
  locale: string;
}) {
  const { frame, picked, rows, virtual, number, columns, pick, follow } = useSightTable({ matrix, filters, locale });
  if (rows.length === 0)
    return (
      <div className="sheet">
        <Empty title="Nobody fits">Take a filter away, or try another name.</Empty>
      </div>
    );
  const through = new Set(matrix.roles.flatMap((r) => (r.included ? [r.name] : [])));
  const items = virtual.getVirtualItems();
  const before = items[0]?.start ?? 0;
  const after = virtual.getTotalSize() - (items[items.length - 1]?.end ?? 0);
  const pair = new URLSearchParams({ one: picked[0] ?? "", other: picked[1] ?? "" });
  return (
    <>
      <SightHead filters={filters} number={number} rows={rows} matrix={matrix} picked={picked} at={at} pair={pair} />
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard (WCAG 2.1.1) */}
      <section ref={frame} tabIndex={0} aria-label="Sightlines" className="sheet max-h-[70vh] overflow-auto">
        {/* biome-ignore lint/a11y/useKeyWithClickEvents: follows the links inside, which answer the keyboard with a click of their own */}
        <table
          className="sights table-fixed"
          style={{ width: `max(100%, ${16 + 6.2 * columns.length}rem)` }}
          aria-rowcount={rows.length + 1}
          onClick={follow}
        >
          <SightColumns filters={filters} columns={columns} number={number} />
          <tbody>
            {before > 0 && <tr aria-hidden style={{ height: before }} />}
            {items.map((v) => {
              const r = rows[v.index]!;
              return r.kind === "group" ? (
                <GroupLine key={v.key} v={v} r={r} number={number} through={through} columns={columns} />
              ) : (
                <LineRow
                  key={v.key}
                  line={r.line}
                  at={v.index + 2}
                  columns={columns}
                  picked={picked.includes(r.line.as)}
                  onPick={pick}
                  matrix={matrix}
                  base={`${at}/check`}
                  which={which}
                  number={number}
                />
              );
            })}
            {after > 0 && <tr aria-hidden style={{ height: after }} />}
          </tbody>
        </table>
      </section>
    </>
  );
}

/** Which lines are in sight, and which two are compared. */
function useSightTable({
  matrix,
  filters,
  locale,
}: Pick<
  {
    at: string;
    which: string;
    matrix: Matrix;
    filters: Filters;
    locale: string;
  },
  "matrix" | "filters" | "locale"
>) {
  const frame = useRef<HTMLElement>(null);
  const [picked, setPicked] = useState<readonly string[]>([]);
  const rows = useMemo(() => rowsOf(matrix, filters), [matrix, filters]);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => frame.current,
    estimateSize: (i) => (rows[i]?.kind === "group" ? GROUP : LINE),
    overscan: 6,
    getItemKey: (i) => {
      const r = rows[i];
      return r?.kind === "line" ? `${r.group} ${r.line.as}` : `group ${r?.name}`;
    },
  });
  const number = useMemo(() => new Intl.NumberFormat(locale), [locale]);
  const columns = useMemo(
    () => matrix.tables.map((t, i) => ({ ...t, i })).filter((t) => !filters.table || t.name === filters.table),
    [matrix, filters.table],
  );
  const pick = useCallback((as: string): void => setPicked((p) => (p.includes(as) ? p.filter((x) => x !== as) : [...p.slice(-1), as])), []);
  const router = useRouter();
  const follow = (e: MouseEvent<HTMLElement>): void => {
    const link = (e.target as Element).closest("a");
    if (!link || e.metaKey || e.ctrlKey || e.shiftKey || e.button !== 0) return;
    e.preventDefault();
    router.push(link.getAttribute("href")!);
  };
  return { frame, picked, rows, virtual, number, columns, pick, follow };
}

interface LineRowProps {
  line: Line;
  at: number;
  columns: readonly (Matrix["tables"][number] & { i: number })[];
  picked: boolean;
  onPick: (as: string) => void;
  matrix: Matrix;
  base: string;
  which: string;
  number: Intl.NumberFormat;
}

/** Drawn once while it is in sight: scrolling draws only the rows that come. */
const LineRow = memo(function LineRow({ line, at, columns, picked, onPick, matrix, base, which, number }: LineRowProps) {
  return (
    <tr style={{ height: LINE }} aria-rowindex={at}>
      <Who line={line} picked={picked} onPick={() => onPick(line.as)} />
      {columns.map((t) => {
        const cell = line.cells[t.i]!;
        const to = new URLSearchParams({ as: line.as, show: cell[0] > 0 ? "seen" : "all", of: which });
        const why = matrix.sentences[cell[5]] ?? "";
        return <SightCell key={t.slug} cell={cell} table={t} who={line.name} why={why} href={`${base}/${t.slug}?${to}`} number={number} />;
      })}
    </tr>
  );
});

function GroupFigure({ range, all, number }: { range: Range; all: number; number: Intl.NumberFormat }) {
  const [least, most] = range;
  const words =
    least === most
      ? `${number.format(most)} of ${number.format(all)}`
      : `from ${number.format(least)} to ${number.format(most)} of ${number.format(all)}`;
  return (
    <span className={most === 0 ? "quiet font-normal" : "font-medium"} title={words}>
      {rangeWords(range, number)}
    </span>
  );
}

function Who({ line, picked, onPick }: { line: Line; picked: boolean; onPick: () => void }) {
  const state = line.status === "active" || line.status === "visitor" ? "" : `, ${statusWords(line.status as PersonStatus)}`;
  return (
    <th scope="row">
      <label className="flex items-center gap-2.5">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={picked}
          onChange={onPick}
          aria-label={`Compare ${line.name}, ${companyLabel(line)}`}
        />
        <span className="min-w-0">
          <span className="block truncate font-medium">{line.name}</span>
          <span className="quiet block truncate text-[0.8rem] font-normal">
            {line.roles.join(", ") || (line.status === "visitor" ? "not signed in" : "no membership")}
            {state}
          </span>
        </span>
      </label>
    </th>
  );
}

interface GroupLineProps {
  readonly v: VirtualItem;
  readonly r: { kind: "group"; name: string; people: number; ranges: readonly Range[] };
  readonly number: Intl.NumberFormat;
  readonly through: Set<string>;
  readonly columns: { i: number; slug: string; name: string; all: number }[];
}

/** A role or company, above its people. */
function GroupLine({ v, r, number, through, columns }: GroupLineProps) {
  return (
    <tr style={{ height: GROUP }} aria-rowindex={v.index + 2} className="group-row">
      <th scope="rowgroup">
        <span className="block max-w-56 truncate">
          {r.name}{" "}
          <span className="quiet font-normal">
            {r.people > 0 ? number.format(r.people) : through.has(r.name) ? "with others" : "nobody"}
          </span>
        </span>
      </th>
      {columns.map((t) => (
        <td key={t.slug} className="num px-3!">
          {r.people > 0 && <GroupFigure range={r.ranges[t.i]!} all={t.all} number={number} />}
        </td>
      ))}
    </tr>
  );
}

interface SightHeadProps {
  readonly filters: Filters;
  readonly number: Intl.NumberFormat;
  readonly rows: Row[];
  readonly matrix: Matrix;
  readonly picked: readonly string[];
  readonly at: string;
  readonly pair: URLSearchParams;
}

/** How many there are, and two that are compared. */
function SightHead({ filters, number, rows, matrix, picked, at, pair }: SightHeadProps) {
  return (
    <div className="flex flex-wrap items-center justify-between gap-3">
      <p className="quiet max-w-prose text-sm">
        {filters.show === "groups"
          ? `${number.format(rows.length)} ${filters.by === "role" ? "roles" : "companies"} with the fewest and the most that anybody of them sees.`
          : `${number.format(new Set(rows.flatMap((r) => (r.kind === "line" ? [r.line.as] : []))).size)} of ${number.format(matrix.lines.length)} lines. Under a figure, −2 is two fields that they never see, ±1 one that they see on some records only.`}
      </p>
      {picked.length === 2 ? (
        <Link className="btn btn-sm btn-primary" href={`${at}/sightlines/compare?${pair}`}>
          Compare the two
        </Link>
      ) : (
        <span className="quiet text-sm" role="status" hidden={filters.show === "groups"}>
          {picked.length === 0 ? "Tick two people to compare them." : "Tick one more."}
        </span>
      )}
    </div>
  );
}

interface SightColumnsProps {
  readonly filters: Filters;
  readonly columns: { i: number; slug: string; name: string; all: number }[];
  readonly number: Intl.NumberFormat;
}

/** Names of the columns. */
function SightColumns({ filters, columns, number }: SightColumnsProps) {
  return (
    <thead>
      <tr>
        <th scope="col">{filters.show === "people" ? "Person" : filters.by === "role" ? "Role" : "Company"}</th>
        {columns.map((t) => (
          <th key={t.slug} scope="col" className="num">
            {t.name}
            <span className="quiet block text-[0.8rem] font-normal">of {number.format(t.all)}</span>
          </th>
        ))}
      </tr>
    </thead>
  );
}
