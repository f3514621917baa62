"use client";
/** The rules of paying: tax, grace, who may pay, whether a plan comes first and what people are without one, and numbers of invoices. */
import { useState } from "react";
import { type Billing, newRate } from "@/core/definition/parts/plans";
import { saveBilling } from "../actions";
import { useTried } from "./try-first";

interface Props {
  portal: string;
  revision: number;
  billing: Billing;
  roles: readonly { readonly id: string; readonly name: string }[];
  countries: readonly { readonly code: string; readonly name: string }[];
}

type Rate = Billing["tax"]["rates"][number];

export function RulesForm({ portal, revision, billing, roles, countries }: Props) {
  const [b, setB] = useState(billing);
  const [said, setSaid] = useState("");
  const { problem, busy, attempt } = useTried();
  const change = (more: Partial<Billing>): void => {
    setSaid("");
    setB({ ...b, ...more });
  };
  const rates = (list: Rate[]): void => change({ tax: { ...b.tax, rates: list } });
  const free = countries.filter((c) => !b.tax.rates.some((r) => r.country === c.code));
  return (
    <div className="sheet grid gap-6 p-5 text-sm">
      <PayersChoice roles={roles} b={b} change={change} />
      <GraceRules b={b} change={change} />
      <TaxRules b={b} change={change} rates={rates} countries={countries} free={free} />
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={b.planFirst}
          onChange={(e) => change({ planFirst: e.target.checked })}
        />
        A plan comes first: whoever's company has none, or whose plan has lapsed, is this role alone
      </label>
      {b.planFirst && (
        <label className="grid w-fit gap-1 font-medium">
          Meanwhile they are
          <select
            className="select select-sm"
            value={b.unpaid ?? ""}
            onChange={(e) => change({ unpaid: e.target.value === "" ? null : e.target.value })}
          >
            <option value="">nothing: the plans page and their own page</option>
            {roles.map((r) => (
              <option key={r.id} value={r.id}>
                {r.name}
              </option>
            ))}
          </select>
        </label>
      )}
      {problem && (
        <p role="alert" className="field-error">
          {problem}
        </p>
      )}
      <div className="flex items-center gap-4">
        <button
          type="button"
          className="btn btn-primary btn-sm"
          disabled={busy}
          onClick={() =>
            attempt(
              () => saveBilling(portal, revision, b),
              () => setSaid("Kept in the draft."),
            )
          }
        >
          Keep the rules in the draft
        </button>
        <span role="status" className="quiet">
          {said}
        </span>
      </div>
    </div>
  );
}

interface TaxRulesProps {
  readonly b: Billing;
  readonly change: (more: Partial<Billing>) => void;
  readonly rates: (list: Rate[]) => void;
  readonly countries: readonly { code: string; name: string }[];
  readonly free: { code: string; name: string }[];
}

/** Whether tax is added, and which. */
function TaxRules({ b, change, rates, countries, free }: TaxRulesProps) {
  return (
    <fieldset className="grid gap-2">
      <legend className="font-medium">Tax</legend>
      <select
        aria-label="Tax"
        className="select select-sm w-fit"
        value={b.tax.mode}
        onChange={(e) => change({ tax: { ...b.tax, mode: e.target.value as Billing["tax"]["mode"] } })}
      >
        <option value="none">none is reckoned</option>
        <option value="exclusive">is added to the prices</option>
        <option value="inclusive">is in the prices</option>
      </select>
      {b.tax.mode !== "none" && (
        <>
          <p className="quiet">
            By the country of whoever is billed; where there is no rate, there is no tax. It is rounded half up on each line.
          </p>
          {b.tax.rates.map((r, i) => {
            const set = (more: Partial<Rate>): void => rates(b.tax.rates.map((x, k) => (k === i ? { ...x, ...more } : x)));
            const country = countries.find((c) => c.code === r.country)?.name ?? r.country;
            return (
              <span key={r.id} className="flex flex-wrap items-center gap-2">
                <span className="w-40">{country}</span>
                <input
                  aria-label={`Name of the tax, ${country}`}
                  className="input input-sm w-28"
                  maxLength={40}
                  value={r.name}
                  onChange={(e) => set({ name: e.target.value })}
                />
                <input
                  aria-label={`Rate in percent, ${country}`}
                  type="number"
                  min={0}
                  max={100}
                  step={0.01}
                  className="input input-sm num w-24"
                  value={r.rate / 100}
                  onChange={(e) => set({ rate: Math.round(Number(e.target.value) * 100) })}
                />
                %
                <button type="button" className="btn btn-ghost btn-xs" onClick={() => rates(b.tax.rates.filter((_, k) => k !== i))}>
                  Without it
                </button>
              </span>
            );
          })}
          <select
            aria-label="A rate for another country"
            className="select select-sm w-fit"
            value=""
            onChange={(e) => e.target.value && rates([...b.tax.rates, newRate(e.target.value)])}
          >
            <option value="">A rate for another country…</option>
            {free.map((c) => (
              <option key={c.code} value={c.code}>
                {c.name}
              </option>
            ))}
          </select>
        </>
      )}
    </fieldset>
  );
}

/** What follows a payment that failed. */
function GraceRules({ b, change }: { b: Billing; change: (more: Partial<Billing>) => void }) {
  return (
    <div className="flex flex-wrap items-end gap-4">
      <label className="grid gap-1 font-medium">
        Days of grace after a payment that failed
        <input
          type="number"
          min={0}
          max={90}
          className="input input-sm w-24"
          value={b.grace}
          onChange={(e) => change({ grace: Number(e.target.value) })}
        />
      </label>
      <label className="grid gap-1 font-medium">
        Invoice numbers begin with
        <input className="input input-sm w-28" maxLength={12} value={b.numbers} onChange={(e) => change({ numbers: e.target.value })} />
      </label>
    </div>
  );
}

interface PayersChoiceProps {
  readonly roles: readonly { id: string; name: string }[];
  readonly b: Billing;
  readonly change: (more: Partial<Billing>) => void;
}

/** Who may pay. */
function PayersChoice({ roles, b, change }: PayersChoiceProps) {
  return (
    <fieldset className="grid gap-2">
      <legend className="font-medium">Who in a company may pay</legend>
      <p className="quiet">
        They choose plans, see the company's orders and invoices, and keep the way to pay. They still can when the plan has lapsed.
      </p>
      <div className="flex flex-wrap gap-x-6 gap-y-2">
        {roles.map((r) => (
          <label key={r.id} className="flex items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={b.payers.includes(r.id)}
              onChange={(e) => change({ payers: e.target.checked ? [...b.payers, r.id] : b.payers.filter((x) => x !== r.id) })}
            />
            {r.name}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
