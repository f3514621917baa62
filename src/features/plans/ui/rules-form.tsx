"use client";
/** The rules of paying: tax, grace, who may pay, and whether a plan comes first. */
import { useState } from "react";
import type { Billing } from "@/core/definition/parts/plans";
import { saveBilling } from "../actions";
import { useTried } from "./try-first";

interface Props {
  portal: string;
  revision: number;
  billing: Billing;
  roles: readonly { readonly id: string; readonly name: string }[];
}

const MODES = {
  none: "Prices are without tax, and none is added",
  exclusive: "Tax is added to prices",
  inclusive: "Prices have the tax in them",
} as const;

export function RulesForm({ portal, revision, billing, roles }: Props) {
  const [b, setB] = useState(billing);
  const [said, setSaid] = useState("");
  const { problem, busy, attempt } = useTried();
  const change = (more: Partial<Billing>): void => {
    setSaid("");
    setB({ ...b, ...more });
  };
  const rates = b.tax.rates;
  const rate = (i: number, more: Partial<Billing["tax"]["rates"][number]>): void =>
    change({ tax: { ...b.tax, rates: rates.map((r, k) => (k === i ? { ...r, ...more } : r)) } });
  return (
    <div className="sheet grid gap-5 p-5 text-sm">
      <div className="flex flex-wrap gap-5">
        <label className="grid gap-1 font-medium">
          Tax
          <select
            className="select select-sm"
            value={b.tax.mode}
            onChange={(e) => change({ tax: { ...b.tax, mode: e.target.value as Billing["tax"]["mode"] } })}
          >
            {Object.entries(MODES).map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
        </label>
        <label className="grid gap-1 font-medium">
          Days of grace after a payment that failed
          <input
            type="number"
            min={0}
            max={90}
            className="input input-sm w-28"
            value={b.grace}
            onChange={(e) => change({ grace: Number(e.target.value) })}
          />
        </label>
      </div>
      {b.tax.mode !== "none" && (
        <fieldset className="grid gap-2">
          <legend className="font-medium">Rates, by the country of the company; of others none</legend>
          {rates.map((r, i) => (
            <span key={r.id} className="flex flex-wrap items-center gap-2">
              <input
                aria-label="Country, by its two letters"
                className="input input-sm w-16 uppercase"
                maxLength={2}
                value={r.country}
                onChange={(e) => rate(i, { country: e.target.value.toUpperCase() })}
              />
              <input
                aria-label={`What the tax of ${r.country || "the country"} is called`}
                className="input input-sm w-32"
                maxLength={40}
                value={r.name}
                onChange={(e) => rate(i, { name: e.target.value })}
              />
              <input
                aria-label={`Percent in ${r.country || "the country"}`}
                type="number"
                min={0}
                max={100}
                step={0.01}
                className="input input-sm w-24"
                value={r.rate / 100}
                onChange={(e) => rate(i, { rate: Math.round(Number(e.target.value) * 100) })}
              />
              %
              <button
                type="button"
                className="btn btn-ghost btn-xs"
                onClick={() => change({ tax: { ...b.tax, rates: rates.filter((_, k) => k !== i) } })}
              >
                Without it
              </button>
            </span>
          ))}
          <button
            type="button"
            className="btn btn-sm w-fit"
            onClick={() =>
              change({
                tax: {
                  ...b.tax,
                  rates: [...rates, { id: `rate-${crypto.randomUUID().slice(0, 8)}`, country: "", name: "VAT", rate: 2_000 }],
                },
              })
            }
          >
            Add a rate
          </button>
        </fieldset>
      )}
      <fieldset className="grid gap-1">
        <legend className="font-medium">Who may pay for their company</legend>
        <div className="flex flex-wrap gap-x-5 gap-y-1">
          {roles.map((r) => (
            <label key={r.id} className="flex items-center gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                checked={b.payers.includes(r.id)}
                onChange={(e) => change({ payers: [...b.payers.filter((x) => x !== r.id), ...(e.target.checked ? [r.id] : [])] })}
              />
              {r.name}
            </label>
          ))}
        </div>
      </fieldset>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={b.planFirst}
          onChange={(e) => change({ planFirst: e.target.checked })}
        />
        A plan comes first: before it, nothing is open but the way to one
      </label>
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
