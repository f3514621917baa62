"use client";
/** Prices of one plan. A published one is retired, and another takes its place; one in the draft alone can be taken away. */
import { type Dispatch, type SetStateAction, useState } from "react";
import { CYCLE_IDS, CYCLES } from "@/core/prices/cycles";
import type { DraftAnswer } from "@/office/draft";
import { addPrice, dropPrice, type PriceInput, retirePrice } from "../actions";
import { useTried } from "./try-first";

export interface ShownPrice {
  readonly id: string;
  /** "£90.00 a month", with what goes with it. */
  readonly words: string;
  readonly retired: boolean;
  readonly published: boolean;
}
interface Props {
  portal: string;
  revision: number;
  plan: { readonly id: string; readonly name: string };
  prices: readonly ShownPrice[];
  /** What a year is proposed at, as it is written; empty where there is no month's price. */
  proposed: string;
}

export function PriceList({ portal, revision, plan, prices, proposed }: Props) {
  const { problem, busy, attempt } = useTried();
  const [input, setInput] = useState<PriceInput | null>(null);
  const begin = (): void => {
    const year = proposed !== "";
    setInput({
      plan: plan.id,
      cycle: year ? "year" : "month",
      per: "company",
      amount: year ? proposed : "",
      least: 1,
      setup: "",
      trialDays: 0,
    });
  };
  return (
    <div className="grid gap-2 text-sm">
      <ul className="grid gap-1">
        {prices.map((p) => (
          <li key={p.id} className="flex flex-wrap items-baseline gap-x-3">
            <span className={p.retired ? "quiet line-through" : "font-medium"}>{p.words}</span>
            {!p.published && <span className="tag">in the draft</span>}
            <button
              type="button"
              className="link-plain min-h-6"
              disabled={busy}
              onClick={() =>
                attempt(() => (p.published ? retirePrice(portal, revision, p.id, !p.retired) : dropPrice(portal, revision, p.id)))
              }
            >
              {p.published ? (p.retired ? "Offer it again" : "Retire") : "Take away"}
              <span className="sr-only">
                {" "}
                the price of {plan.name}, {p.words}
              </span>
            </button>
          </li>
        ))}
        {prices.length === 0 && <li className="quiet">Free, as it has no price.</li>}
      </ul>
      {problem && (
        <p role="alert" className="field-error">
          {problem}
        </p>
      )}
      {!input ? (
        <button type="button" className="link-plain min-h-6 w-fit" onClick={begin}>
          New price<span className="sr-only"> of {plan.name}</span>
        </button>
      ) : (
        <PriceForm input={input} setInput={setInput} busy={busy} attempt={attempt} portal={portal} revision={revision} />
      )}
    </div>
  );
}

interface PriceFormProps {
  readonly input: PriceInput;
  readonly setInput: Dispatch<SetStateAction<PriceInput | null>>;
  readonly busy: boolean;
  readonly attempt: (change: () => Promise<DraftAnswer>, then?: () => void) => void;
  readonly portal: string;
  readonly revision: number;
}

/** A new price. */
function PriceForm({ input, setInput, busy, attempt, portal, revision }: PriceFormProps) {
  return (
    <div className="flex flex-wrap items-end gap-3 rounded-box border border-base-300 p-3">
      <label className="grid gap-1 font-medium">
        Amount
        <input className="input input-sm w-28" value={input.amount} onChange={(e) => setInput({ ...input, amount: e.target.value })} />
      </label>
      <label className="grid gap-1 font-medium">
        Every
        <select
          className="select select-sm"
          value={input.cycle}
          onChange={(e) => setInput({ ...input, cycle: e.target.value as PriceInput["cycle"] })}
        >
          {CYCLE_IDS.map((id) => (
            <option key={id} value={id}>
              {CYCLES[id].name}
            </option>
          ))}
        </select>
      </label>
      <label className="grid gap-1 font-medium">
        For
        <select
          className="select select-sm"
          value={input.per}
          onChange={(e) => setInput({ ...input, per: e.target.value as PriceInput["per"] })}
        >
          <option value="company">the company</option>
          <option value="seat">each seat</option>
        </select>
      </label>
      {input.per === "seat" && (
        <label className="grid gap-1 font-medium">
          Seats at the least
          <input
            type="number"
            min={1}
            className="input input-sm w-24"
            value={input.least}
            onChange={(e) => setInput({ ...input, least: Number(e.target.value) })}
          />
        </label>
      )}
      <label className="grid gap-1 font-medium">
        Trial, in days
        <input
          type="number"
          min={0}
          className="input input-sm w-24"
          value={input.trialDays}
          onChange={(e) => setInput({ ...input, trialDays: Number(e.target.value) })}
        />
      </label>
      <label className="grid gap-1 font-medium">
        Once, to set it up
        <input className="input input-sm w-28" value={input.setup} onChange={(e) => setInput({ ...input, setup: e.target.value })} />
      </label>
      <button
        type="button"
        className="btn btn-primary btn-sm"
        disabled={busy}
        onClick={() =>
          attempt(
            () => addPrice(portal, revision, input),
            () => setInput(null),
          )
        }
      >
        Keep in the draft
      </button>
      <button type="button" className="btn btn-ghost btn-sm" onClick={() => setInput(null)}>
        Cancel
      </button>
    </div>
  );
}
