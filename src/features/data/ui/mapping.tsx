"use client";
/** Column by column: what the file has, where it goes, and which one names the company. */
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import type { ImportPlan } from "@/core/exchange/import-plan";
import { FIELD_TYPES, type FieldType } from "@/core/schema/types";
import { checkPlan } from "../actions";

export interface MappingColumn {
  name: string;
  sample: string[];
  guess: { type: FieldType; dateOrder: "iso" | "day-first" | "month-first"; choices: string[]; filled: number };
}
export interface MappingTable {
  id: string;
  name: string;
  fields: { id: string; name: string; type: FieldType; toCompany: boolean }[];
}

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
}

type Column = ImportPlan["columns"][number];
const TYPE_WORDS: Record<FieldType, string> = {
  text: "Text",
  "long-text": "Long text",
  number: "Number",
  money: "Money",
  date: "Date",
  "yes-no": "Yes or no",
  choice: "Choice",
  choices: "Several choices",
  relation: "Relation",
  relations: "Several relations",
};
const NEW_TYPES = FIELD_TYPES.filter((t) => t !== "relations" && t !== "choices");

const fresh = (c: MappingColumn): Column => ({
  to: "new",
  name: c.name,
  type: c.guess.type as never,
  order: c.guess.dateOrder,
  choices: c.guess.choices,
});
const matching = (c: MappingColumn, t: MappingTable): Column => {
  const f = t.fields.find((x) => x.name.toLowerCase() === c.name.toLowerCase());
  return f ? { to: "field", field: f.id, order: c.guess.dateOrder } : { to: "skip" };
};

export function Mapping({ portal, importId, fileName, rows, ragged, columns, tables, targets, suggestion, before }: Props) {
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
      const answer = await checkPlan(portal, importId, plan);
      setProblems(answer.ok ? [] : answer.problems);
      if (answer.ok) router.refresh();
    });

  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <p className="quiet">
        {fileName}: {rows.toLocaleString("en-GB")} rows, {columns.length} columns.
        {ragged > 0 &&
          ` ${ragged === 1 ? "One row has" : `${ragged.toLocaleString("en-GB")} rows have`} too many or too few cells and will be refused.`}
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
            <option value="">None: the agency's own, for now</option>
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
                <td className="quiet max-w-44!">{c.sample.filter(Boolean).slice(0, 3).join(" · ") || "empty"}</td>
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

function Goes({
  column,
  value,
  table,
  onChange,
}: {
  column: MappingColumn;
  value: Column;
  table: MappingTable | undefined;
  onChange: (c: Column) => void;
}) {
  const key = value.to === "field" ? value.field : value.to;
  return (
    <div className="flex gap-2">
      <select
        aria-label={`Where ${column.name} goes`}
        className="select select-sm w-36"
        value={key}
        onChange={(e) =>
          onChange(
            e.target.value === "skip"
              ? { to: "skip" }
              : e.target.value === "new"
                ? fresh(column)
                : { to: "field", field: e.target.value, order: column.guess.dateOrder },
          )
        }
      >
        <option value="new">A new field</option>
        {table?.fields.map((f) => (
          <option key={f.id} value={f.id}>
            {f.name}
          </option>
        ))}
        <option value="skip">Leave it out</option>
      </select>
      {value.to === "new" && (
        <input
          aria-label={`Name of the field for ${column.name}`}
          className="input input-sm w-32"
          value={value.name}
          onChange={(e) => onChange({ ...value, name: e.target.value })}
        />
      )}
    </div>
  );
}

interface AsProps {
  column: MappingColumn;
  value: Column;
  names: boolean;
  table: MappingTable | undefined;
  targets: { id: string; name: string }[];
  onChange: (c: Column) => void;
}

function As({ column, value, names, table, targets, onChange }: AsProps) {
  if (value.to === "skip") return <span className="quiet">left out</span>;
  if (names) return <span className="font-medium">The company</span>;
  const type = value.to === "field" ? (table?.fields.find((f) => f.id === value.field)?.type ?? "text") : value.type;
  return (
    <div className="flex gap-2">
      {value.to === "field" ? (
        <span className="py-1">{TYPE_WORDS[type]}</span>
      ) : (
        <select
          aria-label={`Type of ${column.name}`}
          className="select select-sm w-40"
          value={value.type}
          onChange={(e) => onChange({ ...value, type: e.target.value as never, choices: column.guess.choices })}
        >
          {NEW_TYPES.map((t) => (
            <option key={t} value={t}>
              {TYPE_WORDS[t]}
              {t === column.guess.type ? " (guessed)" : ""}
            </option>
          ))}
        </select>
      )}
      {type === "date" && (
        <select
          aria-label={`How ${column.name} is written`}
          className="select select-sm w-36"
          value={value.order}
          onChange={(e) => onChange({ ...value, order: e.target.value as never })}
        >
          <option value="iso">year-month-day</option>
          <option value="day-first">day/month/year</option>
          <option value="month-first">month/day/year</option>
        </select>
      )}
      {value.to === "new" && value.type === "relation" && (
        <select
          aria-label={`What ${column.name} points to`}
          className="select select-sm w-36"
          value={value.target ?? ""}
          onChange={(e) => onChange({ ...value, target: e.target.value })}
        >
          <option value="">Points to…</option>
          {targets.map((t) => (
            <option key={t.id} value={t.id}>
              {t.name}
            </option>
          ))}
        </select>
      )}
    </div>
  );
}
