"use client";
/** Parts of the mapping beside its columns: what records are called and known again by, and whose they are. */
import { type ImportPlan, isRelationType, type PlanColumn } from "@/core/exchange/import-plan";
import { STARTER_WORDS, type Starter, startersFor } from "@/core/exchange/starters";
import { isWords, pointsToOne } from "@/core/schema/fields/natures";
import type { MappingColumn, MappingTable } from "./mapping-column";

export interface Part {
  plan: ImportPlan;
  setPlan: (p: ImportPlan) => void;
  columns: MappingColumn[];
  table: MappingTable | undefined;
  tables: MappingTable[];
}

export const typeOf = (c: PlanColumn, table: MappingTable | undefined): string =>
  c.to === "new" ? c.type : c.to === "field" ? (table?.fields.find((f) => f.id === c.field)?.type ?? "") : "";

export function Title({ plan, setPlan, columns }: Part) {
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
export function KnownBy({ plan, setPlan, columns, table }: Part) {
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
export function Whose({ plan, setPlan, columns, tables }: Part) {
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
      {offered.length > 0 && <FirstRights offered={offered} plan={plan} setPlan={setPlan} />}
    </>
  );
}

export function WherePeople({ plan, setPlan, roles, table }: Part & { roles: { id: string; name: string; side: string }[] }) {
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

interface FirstRightsProps {
  readonly offered: Starter[];
  readonly plan: ImportPlan;
  readonly setPlan: (p: ImportPlan) => void;
}

/** What clients may do with the new table at first. */
function FirstRights({ offered, plan, setPlan }: FirstRightsProps) {
  return (
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
  );
}
