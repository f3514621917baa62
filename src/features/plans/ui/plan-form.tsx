"use client";
/** One plan: what it is called and opens, how much of what it has in a month, and its seats. */
import { type Dispatch, type SetStateAction, useId, useState } from "react";
import type { Plan } from "@/core/definition/parts/plans";
import { FilterButton } from "@/office/filter/filter-button";
import { KeepOrCancel } from "@/office/ui/keep-or-cancel";
import { dropPlan, savePlan } from "../actions";
import { useTried } from "./try-first";

interface Named {
  readonly id: string;
  readonly name: string;
}
interface Props {
  portal: string;
  revision: number;
  /** Null for a new one. */
  plan: Plan | null;
  features: readonly Named[];
  tables: readonly Named[];
  companies: readonly Named[];
}

const NEW: Omit<Plan, "id"> = { name: "", about: "", features: [], allowances: [], seats: null, offered: "all" };

export function PlanForm({ portal, revision, plan, features, tables, companies }: Props) {
  const id = useId();
  const [open, setOpen] = useState(false);
  const [p, setP] = useState<Omit<Plan, "id">>(plan ?? NEW);
  const { problem, busy, attempt } = useTried();
  if (!open)
    return (
      <span className="flex flex-wrap gap-3">
        <button type="button" className={plan ? "link-plain min-h-6 text-sm" : "btn btn-primary btn-sm"} onClick={() => setOpen(true)}>
          {plan ? "Change" : "New plan"}
          {plan && <span className="sr-only"> the plan {plan.name}</span>}
        </button>
        {plan && (
          <button
            type="button"
            className="link-plain min-h-6 text-sm"
            disabled={busy}
            onClick={() => attempt(() => dropPlan(portal, revision, plan.id))}
          >
            Take away<span className="sr-only"> the plan {plan.name}</span>
          </button>
        )}
        {problem && (
          <span role="alert" className="field-error">
            {problem}
          </span>
        )}
      </span>
    );
  const toggle = (list: readonly string[], x: string, on: boolean): string[] => [...list.filter((y) => y !== x), ...(on ? [x] : [])];
  const keep = (): void =>
    attempt(
      () => savePlan(portal, revision, { ...p, id: plan?.id ?? null }),
      () => {
        setOpen(false);
        if (!plan) setP(NEW);
      },
    );
  return (
    <div className="grid gap-4 rounded-box border border-base-300 p-4 text-sm">
      <div className="grid gap-4 sm:grid-cols-2">
        <label className="grid gap-1 font-medium">
          Name
          <input className="input w-full" maxLength={80} value={p.name} onChange={(e) => setP({ ...p, name: e.target.value })} />
        </label>
        <label className="grid gap-1 font-medium">
          In a sentence
          <input className="input w-full" maxLength={300} value={p.about} onChange={(e) => setP({ ...p, about: e.target.value })} />
        </label>
      </div>
      <OpenedFeatures features={features} p={p} setP={setP} toggle={toggle} />
      <Allowances p={p} tables={tables} setP={setP} portal={portal} />
      <SeatsAndWords p={p} setP={setP} id={id} />
      {p.offered !== "all" && (
        <fieldset className="flex max-h-48 flex-wrap gap-x-5 gap-y-1 overflow-y-auto">
          <legend className="sr-only">Which companies</legend>
          {companies.map((c) => (
            <label key={c.id} className="flex items-center gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                checked={p.offered !== "all" && p.offered.includes(c.id)}
                onChange={(e) => setP({ ...p, offered: toggle(p.offered === "all" ? [] : p.offered, c.id, e.target.checked) })}
              />
              {c.name}
            </label>
          ))}
        </fieldset>
      )}
      <KeepOrCancel problem={problem} busy={busy} keep={keep} cancel={() => setOpen(false)} />
    </div>
  );
}

interface AllowancesProps {
  readonly p: Omit<Plan, "id">;
  readonly tables: readonly Named[];
  readonly setP: Dispatch<SetStateAction<Omit<Plan, "id">>>;
  readonly portal: string;
}

/** How many records a month it includes. */
function Allowances({ p, tables, setP, portal }: AllowancesProps) {
  return (
    <fieldset className="grid gap-2">
      <legend className="font-medium">How many a month: what a company’s people add</legend>
      {p.allowances.map((a, i) => (
        <span key={a.table} className="flex flex-wrap items-center gap-2">
          <input
            aria-label={`How many ${tables.find((t) => t.id === a.table)?.name ?? "records"} a month`}
            type="number"
            min={0}
            className="input input-sm w-24"
            value={a.perMonth}
            onChange={(e) =>
              setP({ ...p, allowances: p.allowances.map((x, k) => (k === i ? { ...x, perMonth: Number(e.target.value) } : x)) })
            }
          />
          {tables.find((t) => t.id === a.table)?.name ?? "a table that is gone"}
          <select
            aria-label={`Counted by, ${tables.find((t) => t.id === a.table)?.name ?? "records"}`}
            className="select select-sm w-auto"
            value={a.by}
            onChange={(e) =>
              setP({ ...p, allowances: p.allowances.map((x, k) => (k === i ? { ...x, by: e.target.value as "month" | "period" } : x)) })
            }
          >
            <option value="month">a calendar month</option>
            <option value="period">a month of the subscription</option>
          </select>
          <FilterButton
            portal={portal}
            label="Counting those that"
            table={a.table}
            value={a.filter}
            onChange={(filter) => setP({ ...p, allowances: p.allowances.map((x, k) => (k === i ? { ...x, filter } : x)) })}
          />
          <button
            type="button"
            className="btn btn-ghost btn-xs"
            onClick={() => setP({ ...p, allowances: p.allowances.filter((_, k) => k !== i) })}
          >
            Without it
          </button>
        </span>
      ))}
      <select
        aria-label="Count another table"
        className="select select-sm w-auto"
        value=""
        onChange={(e) =>
          e.target.value &&
          setP({ ...p, allowances: [...p.allowances, { table: e.target.value, perMonth: 10, by: "month", filter: null }] })
        }
      >
        <option value="">Count another table…</option>
        {tables
          .filter((t) => !p.allowances.some((a) => a.table === t.id))
          .map((t) => (
            <option key={t.id} value={t.id}>
              {t.name}
            </option>
          ))}
      </select>
    </fieldset>
  );
}

interface SeatsAndWordsProps {
  readonly p: Omit<Plan, "id">;
  readonly setP: Dispatch<SetStateAction<Omit<Plan, "id">>>;
  readonly id: string;
}

/** Seats, and what is said of it. */
function SeatsAndWords({ p, setP, id }: SeatsAndWordsProps) {
  return (
    <div className="flex flex-wrap items-end gap-4">
      <label className="grid gap-1 font-medium">
        Seats it includes
        <input
          type="number"
          min={1}
          className="input input-sm w-32"
          placeholder="as many as come"
          value={p.seats ?? ""}
          onChange={(e) => setP({ ...p, seats: e.target.value === "" ? null : Number(e.target.value) })}
        />
      </label>
      <label className="grid gap-1 font-medium" htmlFor={`${id}-offered`}>
        Offered to
        <select
          id={`${id}-offered`}
          className="select select-sm"
          value={p.offered === "all" ? "all" : "some"}
          onChange={(e) => setP({ ...p, offered: e.target.value === "all" ? "all" : [] })}
        >
          <option value="all">everybody</option>
          <option value="some">certain companies</option>
        </select>
      </label>
    </div>
  );
}

interface OpenedFeaturesProps {
  readonly features: readonly Named[];
  readonly p: Omit<Plan, "id">;
  readonly setP: Dispatch<SetStateAction<Omit<Plan, "id">>>;
  readonly toggle: (list: readonly string[], x: string, on: boolean) => string[];
}

/** Features that it opens. */
function OpenedFeatures({ features, p, setP, toggle }: OpenedFeaturesProps) {
  return (
    <fieldset className="grid gap-1">
      <legend className="font-medium">Opens</legend>
      {features.length === 0 && <p className="quiet">There is no feature yet: make one above, and have grants need it.</p>}
      <div className="flex flex-wrap gap-x-5 gap-y-1">
        {features.map((f) => (
          <label key={f.id} className="flex items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={p.features.includes(f.id)}
              onChange={(e) => setP({ ...p, features: toggle(p.features, f.id, e.target.checked) })}
            />
            {f.name}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
