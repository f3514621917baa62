"use client";
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import type { ImportPlan } from "@/core/exchange/import-plan";
/** Column by column: what the file has, where it goes, and which one names the company. */
import { answered } from "@/ui/answered";
import { checkPlan } from "../actions";
import { As, type Column, fresh, Goes, type MappingColumn, type MappingTable } from "./mapping-column";

interface Props {
  portal: string;
  importId: string;
  fileName: string;
  rows: number;
  ragged: number;
  columns: MappingColumn[];
  tables: MappingTable[];
  /** Tables that a new relation may point to. */
  targets: { id: string; name: string }[];
  suggestion: { table: string; company: number | null };
  before: ImportPlan | null;
  locale: string;
}

const matching = (c: MappingColumn, t: MappingTable): Column => {
  const f = t.fields.find((x) => x.name.toLowerCase() === c.name.toLowerCase());
  return f ? { to: "field", field: f.id, order: c.guess.dateOrder } : { to: "skip" };
};

export function Mapping({ portal, importId, fileName, rows, ragged, columns, tables, targets, suggestion, before, locale }: Props) {
  const router = useRouter();
  const [table, setTable] = useState<string>(before ? ("id" in before.table ? before.table.id : "new") : "new");
  const [name, setName] = useState(before && "name" in before.table ? before.table.name : suggestion.table);
  const [company, setCompany] = useState<number | null>(before ? before.companyColumn : suggestion.company);
  const [add, setAdd] = useState(before?.addCompanies ?? true);
  const [map, setMap] = useState<Column[]>(before?.columns ?? columns.map(fresh));
  const [problems, setProblems] = useState<{ at: number; message: string }[]>([]);
  const [busy, start] = useTransition();
  const chosen = tables.find((t) => t.id === table);

  const choose = (id: string) => {
    setTable(id);
    const t = tables.find((x) => x.id === id);
    const next = columns.map((c) => (t ? matching(c, t) : fresh(c)));
    setMap(next);
    if (t) {
      const at = next.findIndex((c) => c.to === "field" && t.fields.find((f) => f.id === c.field)?.toCompany);
      setCompany(at === -1 ? null : at);
    } else setCompany(suggestion.company);
  };
  const set = (i: number, c: Column) => setMap((all) => all.map((x, j) => (j === i ? c : x)));
  const say = (at: number) =>
    problems
      .filter((p) => p.at === at)
      .map((p) => p.message)
      .join(" ");

  const check = () =>
    start(async () => {
      const plan = { table: chosen ? { id: chosen.id } : { name }, columns: map, companyColumn: company, addCompanies: add };
      const answer = await answered(checkPlan(portal, importId, plan));
      if (!answer) return;
      setProblems(answer.ok ? [] : answer.problems);
      if (answer.ok) router.refresh();
    });

  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <p className="quiet">
        {fileName}: {rows.toLocaleString(locale)} rows, {columns.length} columns.
        {ragged > 0 &&
          ` ${ragged === 1 ? "One row has" : `${ragged.toLocaleString(locale)} rows have`} too many or too few cells and will be refused.`}
      </p>
      {say(-1) && (
        <p role="alert" className="alert alert-error">
          {say(-1)}
        </p>
      )}
      <div className="flex flex-wrap gap-4">
        <label className="grid gap-1">
          <span className="field-label mb-0!">Into</span>
          <select className="select min-w-52" value={table} onChange={(e) => choose(e.target.value)}>
            <option value="new">A new table</option>
            {tables.map((t) => (
              <option key={t.id} value={t.id}>
                {t.name}
              </option>
            ))}
          </select>
        </label>
        {!chosen && (
          <label className="grid gap-1">
            <span className="field-label mb-0!">Its name</span>
            <input className="input" value={name} onChange={(e) => setName(e.target.value)} />
          </label>
        )}
        <label className="grid gap-1">
          <span className="field-label mb-0!">The column that names the company</span>
          <select
            className="select min-w-52"
            value={company ?? ""}
            onChange={(e) => setCompany(e.target.value === "" ? null : Number(e.target.value))}
          >
            <option value="">No column names one: nobody outside the agency will see these records</option>
            {columns.map((c, i) => (
              <option key={c.name} value={i}>
                {c.name}
              </option>
            ))}
          </select>
        </label>
        {company !== null && (
          <label className="flex items-center gap-2 self-end pb-2">
            <input type="checkbox" className="checkbox" checked={add} onChange={(e) => setAdd(e.target.checked)} />
            Add companies that are not there yet
          </label>
        )}
      </div>
      <div className="sheet overflow-x-auto">
        <table className="grid-table roomy">
          <thead>
            <tr>
              <th scope="col">Column of the file</th>
              <th scope="col">First rows</th>
              <th scope="col">Goes to</th>
              <th scope="col">As</th>
            </tr>
          </thead>
          <tbody>
            {columns.map((c, i) => (
              <tr key={c.name}>
                <td className="font-medium">{c.name}</td>
                <td className="quiet max-w-56!">{c.sample.filter(Boolean).slice(0, 3).join(" · ") || "empty"}</td>
                <td>
                  <Goes column={c} value={map[i]!} table={chosen} onChange={(x) => set(i, x)} />
                  {say(i) && <p className="field-error whitespace-normal">{say(i)}</p>}
                </td>
                <td>
                  <As column={c} value={map[i]!} names={company === i} table={chosen} targets={targets} onChange={(x) => set(i, x)} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div>
        <button type="button" className="btn btn-primary" onClick={check} disabled={busy}>
          {busy && <span className="loading loading-spinner loading-xs" aria-hidden />}
          Check all rows
        </button>
        <span className="quiet ml-3 text-sm">Nothing is brought in yet.</span>
      </div>
    </div>
  );
}
