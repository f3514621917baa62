"use client";
/** The matrix itself; only the rows that are looked at are drawn, so ten thousand scroll as ten do. */
import { useVirtualizer } from "@tanstack/react-virtual";
import Link from "next/link";
import { useMemo, useRef, useState } from "react";
import { Empty } from "@/ui/empty";
import type { Line, Matrix } from "../sightlines";
import { SightCell } from "./sight-cell";
import { companyOf, type Filters, rowsOf } from "./sight-rows";

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
  const frame = useRef<HTMLElement>(null);
  const [picked, setPicked] = useState<readonly string[]>([]);
  const rows = useMemo(() => rowsOf(matrix, filters), [matrix, filters]);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => frame.current,
    estimateSize: (i) => (rows[i]?.kind === "group" ? GROUP : LINE),
    overscan: 12,
    getItemKey: (i) => {
      const r = rows[i];
      return r?.kind === "line" ? r.line.as : `group ${r?.name}`;
    },
  });
  const number = new Intl.NumberFormat(locale);
  if (rows.length === 0)
    return (
      <div className="sheet">
        <Empty title="Nobody fits">Take a filter away, or try another name.</Empty>
      </div>
    );
  const columns = matrix.tables.map((t, i) => ({ ...t, i })).filter((t) => !filters.table || t.name === filters.table);
  const items = virtual.getVirtualItems();
  const before = items[0]?.start ?? 0;
  const after = virtual.getTotalSize() - (items[items.length - 1]?.end ?? 0);
  const pick = (as: string): void => setPicked(picked.includes(as) ? picked.filter((x) => x !== as) : [...picked.slice(-1), as]);
  const pair = new URLSearchParams({ one: picked[0] ?? "", other: picked[1] ?? "" });
  return (
    <>
      <div className="flex flex-wrap items-center justify-between gap-3">
        <p className="quiet max-w-prose text-sm">
          {number.format(rows.filter((r) => r.kind === "line").length)} of {number.format(matrix.lines.length)} lines. Under a figure, −2 is
          two fields that they never see, ±1 one that they see on some records only.
        </p>
        {picked.length === 2 ? (
          <Link className="btn btn-sm btn-primary" href={`${at}/sightlines/compare?${pair}`}>
            Compare the two
          </Link>
        ) : (
          <span className="quiet text-sm" role="status">
            {picked.length === 0 ? "Tick two people to compare them." : "Tick one more."}
          </span>
        )}
      </div>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard (WCAG 2.1.1) */}
      <section ref={frame} tabIndex={0} aria-label="Sightlines" className="sheet max-h-[70vh] overflow-auto">
        <table className="sights" aria-rowcount={rows.length + 1}>
          <thead>
            <tr>
              <th scope="col">Person</th>
              {columns.map((t) => (
                <th key={t.slug} scope="col" className="num">
                  {t.name}
                  <span className="quiet block text-[0.8rem] font-normal">of {number.format(t.all)}</span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {before > 0 && <tr aria-hidden style={{ height: before }} />}
            {items.map((v) => {
              const r = rows[v.index]!;
              return r.kind === "group" ? (
                <tr key={v.key} style={{ height: GROUP }} aria-rowindex={v.index + 2} className="group-row">
                  <th scope="colgroup" colSpan={columns.length + 1}>
                    <span className="sticky left-3">
                      {r.name} <span className="quiet font-normal">{number.format(r.people)}</span>
                    </span>
                  </th>
                </tr>
              ) : (
                <tr key={v.key} style={{ height: LINE }} aria-rowindex={v.index + 2}>
                  <Who line={r.line} picked={picked.includes(r.line.as)} onPick={() => pick(r.line.as)} />
                  {columns.map((t) => {
                    const cell = r.line.cells[t.i]!;
                    const to = new URLSearchParams({ as: r.line.as, show: cell[0] > 0 ? "seen" : "all", of: which });
                    const href = `${at}/check/${t.slug}?${to}`;
                    const why = matrix.sentences[cell[5]] ?? "";
                    return <SightCell key={t.slug} cell={cell} table={t} who={r.line.name} why={why} href={href} number={number} />;
                  })}
                </tr>
              );
            })}
            {after > 0 && <tr aria-hidden style={{ height: after }} />}
          </tbody>
        </table>
      </section>
    </>
  );
}

function Who({ line, picked, onPick }: { line: Line; picked: boolean; onPick: () => void }) {
  const state = line.status === "active" || line.status === "visitor" ? "" : `, ${line.status}`;
  return (
    <th scope="row">
      <label className="flex items-center gap-2.5">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={picked}
          onChange={onPick}
          aria-label={`Compare ${line.name}, ${companyOf(line)}`}
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
