"use client";
/** How a file goes in: into which table, column by column, by what records are known again, and whose they are. */
import { useRouter } from "next/navigation";
import { useRef, useState, useTransition } from "react";
import { type ImportPlan, isRelationType, type PlanColumn } from "@/core/exchange/import-plan";
import { STARTER_WORDS, startersFor } from "@/core/exchange/starters";
import { isWords, pointsToOne } from "@/core/schema/fields/natures";
import type { Archive } from "@/data/imports/reading/archive";
import { answered } from "@/ui/answered";
import { checkPlan, proposePlan } from "../../imports";
import { FilesBeside } from "./beside";
import { FileShape, type Shape } from "./file-shape";
import { As, Goes, type MappingColumn, type MappingTable } from "./mapping-column";

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

interface Part {
  plan: ImportPlan;
  setPlan: (p: ImportPlan) => void;
  columns: MappingColumn[];
  table: MappingTable | undefined;
  tables: MappingTable[];
}

const typeOf = (c: PlanColumn, table: MappingTable | undefined): string =>
  c.to === "new" ? c.type : c.to === "field" ? (table?.fields.find((f) => f.id === c.field)?.type ?? "") : "";

function Title({ plan, setPlan, columns }: Part) {
  const can = plan.columns.map((c) => c.to === "new" && isWords(c));
  return (
    <label className="grid gap-1">
      <span className="field-label mb-0!">Each record is called by</span>
      <select
        className="select w-full"
        value={plan.title ?? ""}
        onChange={(e) => setPlan({ ...plan, title: e.target.value === "" ? null : Number(e.target.value) })}
      >
        {columns.map((c, i) => (
          <option key={c.name} value={i} disabled={!can[i]}>
            {c.name}
            {can[i] ? "" : plan.columns[i]!.to === "behind" ? " (stands behind another)" : " (no text)"}
          </option>
        ))}
      </select>
    </label>
  );
}

/** By which column records that are there are found, and what becomes of rows that meet each other. */
function KnownBy({ plan, setPlan, columns, table }: Part) {
  const can = (i: number): boolean => {
    const c = plan.columns[i]!;
    if (!table) return c.to === "new" && !isRelationType(c.type);
    return c.to === "field" && (table.fields.find((f) => f.id === c.field)?.key ?? false);
  };
  return (
    <>
      <label className="grid gap-1">
        <span className="field-label mb-0!">Known again by</span>
        <select
          className="select w-full"
          value={plan.key ?? ""}
          onChange={(e) => setPlan({ ...plan, key: e.target.value === "" ? null : Number(e.target.value) })}
        >
          <option value="">Nothing: every row is added</option>
          {columns.map((c, i) => can(i) && <option key={c.name} value={i}>{`${c.name}: the same ${c.name} is the same record`}</option>)}
        </select>
      </label>
      {plan.key !== null && (
        <div className="flex flex-wrap gap-4">
          <label className="grid gap-1 text-sm">
            <span className="quiet">Two rows of the file with the same</span>
            <select
              className="select select-sm w-56"
              value={plan.duplicates}
              onChange={(e) => setPlan({ ...plan, duplicates: e.target.value as never })}
            >
              <option value="refuse">the second is refused</option>
              <option value="merge">the second completes the first</option>
            </select>
          </label>
          {table && (
            <label className="grid gap-1 text-sm">
              <span className="quiet">An empty cell</span>
              <select
                className="select select-sm w-48"
                value={plan.empties}
                onChange={(e) => setPlan({ ...plan, empties: e.target.value as never })}
              >
                <option value="leave">leaves what is there</option>
                <option value="clear">empties the field</option>
              </select>
            </label>
          )}
        </div>
      )}
    </>
  );
}

/** To whom the records of a new table belong, and what clients may do with them at first. */
function Whose({ plan, setPlan, columns, tables }: Part) {
  const relations = plan.columns.flatMap((c, i) => (c.to === "new" && pointsToOne(c) && c.target ? [{ i, target: c.target }] : []));
  const owning = relations.filter((r) => tables.find((t) => t.id === r.target)?.kind !== "people");
  const people = plan.columns.some((c) => c.to === "new" && tables.find((t) => t.id === c.target)?.kind === "people");
  const offered = startersFor(plan.whose.kind, people);
  const whose = (next: ImportPlan["whose"]): void =>
    setPlan({ ...plan, whose: next, starters: startersFor(next.kind, people).slice(0, 1) });
  const at = plan.whose.kind === "column" ? plan.whose.at : (owning[0]?.i ?? -1);
  return (
    <>
      <fieldset className="grid gap-2">
        <legend className="field-label">Whose are they?</legend>
        <label className="flex flex-wrap items-center gap-2">
          <input
            type="radio"
            name="whose"
            className="radio radio-sm"
            checked={plan.whose.kind === "column"}
            disabled={owning.length === 0}
            onChange={() => whose({ kind: "column", at })}
          />
          <span>The company that this column leads to:</span>
          <select
            aria-label="The column that says whose they are"
            className="select select-sm w-60 max-w-full"
            disabled={owning.length === 0}
            value={at}
            onChange={(e) => whose({ kind: "column", at: Number(e.target.value) })}
          >
            {owning.length === 0 && <option value={-1}>none points anywhere</option>}
            {owning.map((r) => (
              <option key={r.i} value={r.i}>
                {columns[r.i]!.name} ({tables.find((t) => t.id === r.target)?.name})
              </option>
            ))}
          </select>
        </label>
        <label className="flex items-center gap-2">
          <input
            type="radio"
            name="whose"
            className="radio radio-sm"
            checked={plan.whose.kind === "shared"}
            onChange={() => whose({ kind: "shared" })}
          />
          Everybody's: they belong to no company
        </label>
        <label className="flex items-center gap-2">
          <input
            type="radio"
            name="whose"
            className="radio radio-sm"
            checked={plan.whose.kind === "agency"}
            onChange={() => whose({ kind: "agency" })}
          />
          The agency's own: no client ever sees them
        </label>
      </fieldset>
      {offered.length > 0 && (
        <fieldset className="grid gap-2">
          <legend className="field-label">What clients may do at first</legend>
          {offered.map((s) => (
            <label key={s} className="flex items-start gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-sm mt-0.5"
                checked={plan.starters.includes(s)}
                onChange={(e) =>
                  setPlan({ ...plan, starters: e.target.checked ? [...plan.starters, s] : plan.starters.filter((x) => x !== s) })
                }
              />
              <span>
                {STARTER_WORDS[s].name}
                <span className="quiet block text-sm">{STARTER_WORDS[s].about}</span>
              </span>
            </label>
          ))}
          <p className="quiet text-sm">These become grants in the draft. Nobody sees anything before you publish.</p>
        </fieldset>
      )}
    </>
  );
}

function WherePeople({ plan, setPlan, roles, table }: Part & { roles: { id: string; name: string; side: string }[] }) {
  const side = plan.whose.kind === "agency" ? "agency" : "client";
  const offered = roles.filter((r) => r.side === side);
  const named = plan.columns.some((c) => c.to === "role");
  const belongs = (kind: "as-is" | "agency"): void =>
    setPlan({ ...plan, whose: { kind }, role: roles.find((r) => r.side === (kind === "agency" ? "agency" : "client"))?.id ?? null });
  const company = plan.columns.findIndex((c) => c.to === "field" && typeOf(c, table) === "relations");
  return (
    <>
      <fieldset className="grid gap-2">
        <legend className="field-label">Where do they belong?</legend>
        <label className="flex items-center gap-2">
          <input type="radio" name="whose" className="radio radio-sm" checked={side === "client"} onChange={() => belongs("as-is")} />
          {company === -1 ? "In a company: let a column go to Companies" : "In the company that their row names"}
        </label>
        <label className="flex items-center gap-2">
          <input type="radio" name="whose" className="radio radio-sm" checked={side === "agency"} onChange={() => belongs("agency")} />
          They are the agency's own people
        </label>
      </fieldset>
      <label className="grid gap-1">
        <span className="field-label mb-0!">{named ? "Their role where the column is empty" : "Their role"}</span>
        <select className="select w-full" value={plan.role ?? ""} onChange={(e) => setPlan({ ...plan, role: e.target.value || null })}>
          {named && <option value="">None: such rows are refused</option>}
          {offered.map((r) => (
            <option key={r.id} value={r.id}>
              {r.name}
            </option>
          ))}
        </select>
        <span className="quiet text-sm">Nobody is invited by this. They are added, and can be invited under People.</span>
      </label>
    </>
  );
}
