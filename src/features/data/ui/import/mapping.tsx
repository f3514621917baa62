"use client";
/** How a file goes in: into which table, column by column, by what records are known again, and whose they are. */
import { useRouter } from "next/navigation";
import { type Dispatch, type SetStateAction, useRef, useState, useTransition } from "react";
import type { ImportPlan, PlanColumn } from "@/core/exchange/import-plan";
import type { Archive } from "@/data/imports/reading/archive";
import { answered } from "@/ui/answered";
import { checkPlan, proposePlan } from "../../imports";
import { FilesBeside } from "./beside";
import { FileShape, type Shape } from "./file-shape";
import { As, Goes, type MappingColumn, type MappingTable } from "./mapping-column";
import { KnownBy, type Part, Title, typeOf, WherePeople, Whose } from "./mapping-parts";

interface Props {
  portal: string;
  at: string;
  importId: string;
  shape: Shape;
  columns: MappingColumn[];
  tables: MappingTable[];
  roles: { id: string; name: string; side: string }[];
  plan: ImportPlan;
  archive: Archive | null;
  /** The portal's own. */
  currency: string;
  currencies: string[];
}

export function Mapping({ portal, at, importId, shape, columns, tables, roles, plan: first, archive, currency, currencies }: Props) {
  const router = useRouter();
  const [plan, setPlan] = useState(first);
  const [problems, setProblems] = useState<{ at: number; message: string }[]>([]);
  const [busy, start] = useTransition();
  const table = "id" in plan.table ? tables.find((t) => t.id === (plan.table as { id: string }).id) : undefined;

  // The choice is seen at once, and the last one made is the one that holds, whatever comes back when.
  const [wanted, setWanted] = useState<string | null>(null);
  const last = useRef<string | null>(null);
  const into = (id: string): void => {
    setWanted(id);
    last.current = id;
    start(async () => {
      const next = await answered(proposePlan(portal, importId, id === "" ? null : id));
      if (last.current !== id) return;
      setWanted(null);
      setProblems([]);
      if (next) setPlan(next);
    });
  };
  const set = (i: number, c: PlanColumn): void => setPlan((p) => ({ ...p, columns: p.columns.map((x, j) => (j === i ? c : x)) }));
  const say = (i: number): string =>
    problems
      .filter((p) => p.at === i)
      .map((p) => p.message)
      .join(" ");
  const check = (): void =>
    start(async () => {
      const answer = await answered(checkPlan(portal, importId, plan));
      if (!answer) return;
      setProblems(answer.ok ? [] : answer.problems);
      if (!answer.ok) return;
      router.push(`${at}/data/import/${importId}`);
      router.refresh();
    });
  const common = { plan, setPlan, columns, table, tables };

  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <FileShape portal={portal} importId={importId} shape={shape} columns={columns.length} />
      {say(-1) && (
        <p role="alert" className="alert alert-error">
          {say(-1)}
        </p>
      )}
      <IntoTable wanted={wanted} table={table} into={into} tables={tables} plan={plan} setPlan={setPlan} common={common} roles={roles} />
      <ColumnTable
        columns={columns}
        plan={plan}
        table={table}
        tables={tables}
        currencies={currencies}
        currency={currency}
        set={set}
        say={say}
      />
      {(archive?.files || plan.columns.some((c) => /^(files|pictures)$/.test(typeOf(c, table)))) && (
        <FilesBeside portal={portal} at={at} importId={importId} archive={archive} locale={shape.locale} />
      )}
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

interface ColumnTableProps {
  readonly columns: MappingColumn[];
  readonly plan: ImportPlan;
  readonly table: MappingTable | undefined;
  readonly tables: MappingTable[];
  readonly currencies: string[];
  readonly currency: string;
  readonly set: (i: number, c: PlanColumn) => void;
  readonly say: (i: number) => string;
}

/** Columns of the file, and where each goes. */
function ColumnTable({ columns, plan, table, tables, currencies, currency, set, say }: ColumnTableProps) {
  return (
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
          {columns.map((c, i) => {
            const props = {
              column: c,
              place: i,
              columns,
              values: plan.columns,
              value: plan.columns[i]!,
              table,
              tables,
              currencies,
              currency,
              onChange: (x: PlanColumn) => set(i, x),
            };
            return (
              <tr key={c.name} className="leading-7">
                <td className="font-medium">{c.name}</td>
                <td className="quiet max-w-48!">{c.sample.filter(Boolean).slice(0, 3).join(" · ") || "empty"}</td>
                <td>
                  <Goes {...props} />
                  {say(i) && <p className="field-error whitespace-normal">{say(i)}</p>}
                </td>
                <td>
                  <As {...props} />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

interface IntoTableProps {
  readonly wanted: string | null;
  readonly table: MappingTable | undefined;
  readonly into: (id: string) => void;
  readonly tables: MappingTable[];
  readonly plan: ImportPlan;
  readonly setPlan: Dispatch<SetStateAction<ImportPlan>>;
  readonly common: Part;
  readonly roles: { id: string; name: string; side: string }[];
}

/** Which table the rows go into. */
function IntoTable({ wanted, table, into, tables, plan, setPlan, common, roles }: IntoTableProps) {
  return (
    <section className="sheet grid gap-5 p-5 lg:grid-cols-2" aria-label="Where the rows go">
      <div className="grid content-start gap-4">
        <label className="grid gap-1">
          <span className="field-label mb-0!">Into</span>
          <select className="select w-full" value={wanted ?? table?.id ?? ""} onChange={(e) => into(e.target.value)}>
            <option value="">A new table</option>
            {tables.map((t) => (
              <option key={t.id} value={t.id}>
                {t.name}
              </option>
            ))}
          </select>
        </label>
        {!table && "name" in plan.table && (
          <label className="grid gap-1">
            <span className="field-label mb-0!">Its name</span>
            <input
              className="input w-full"
              value={plan.table.name}
              onChange={(e) => setPlan({ ...plan, table: { name: e.target.value } })}
            />
          </label>
        )}
        {!table && <Title {...common} />}
        <KnownBy {...common} />
      </div>
      <div className="grid content-start gap-4">
        {table?.kind === "people" ? <WherePeople {...common} roles={roles} /> : !table && <Whose {...common} />}
      </div>
    </section>
  );
}
