"use client";
/** What an offer opens: choices of its form. */
import type { Dispatch, SetStateAction } from "react";
import { FilterButton } from "@/office/filter/filter-button";
import type { OfferInput } from "../actions";

interface BuyerChoiceProps {
  readonly id: string;
  readonly x: OfferInput;
  readonly setX: Dispatch<SetStateAction<OfferInput>>;
}

/** Who may buy it. */
export function BuyerChoice({ id, x, setX }: BuyerChoiceProps) {
  return (
    <label className="grid gap-1 font-medium" htmlFor={`buyer-${id}`}>
      Bought by
      <select
        id={`buyer-${id}`}
        className="select select-sm"
        value={x.buyer}
        onChange={(e) => setX({ ...x, buyer: e.target.value as OfferInput["buyer"] })}
      >
        {Object.entries(BUYERS).map(([k, words]) => (
          <option key={k} value={k}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}

interface TableChoiceProps {
  readonly o: Extract<Opens, { kind: "record" | "set" | "top-up" }>;
  readonly setX: Dispatch<SetStateAction<OfferInput>>;
  readonly x: OfferInput;
  readonly tables: readonly Choice[];
}

/** Chooses the table that is sold from. */
export function TableChoice({ o, setX, x, tables }: TableChoiceProps) {
  return (
    <select
      aria-label="Of which table"
      className="select select-sm w-auto"
      value={o.table}
      onChange={(e) =>
        setX({ ...x, opens: o.kind === "set" ? { ...o, table: e.target.value, filter: null } : { ...o, table: e.target.value } })
      }
    >
      {tables.map((t) => (
        <option key={t.id} value={t.id}>
          {t.name}
        </option>
      ))}
    </select>
  );
}

interface HowManyMoreProps {
  readonly o: { kind: "top-up"; table: string; n: number; days: number | null };
  readonly setX: Dispatch<SetStateAction<OfferInput>>;
  readonly x: OfferInput;
}

/** How many more. */
export function HowManyMore({ o, setX, x }: HowManyMoreProps) {
  return (
    <label className="grid gap-1 font-medium">
      How many
      <input
        type="number"
        min={1}
        className="input input-sm w-24"
        value={o.n}
        onChange={(e) => setX({ ...x, opens: { ...o, n: Number(e.target.value) } })}
      />
    </label>
  );
}

interface ForDaysProps {
  readonly o: Extract<Opens, { kind: "feature" | "record" | "set" | "top-up" }>;
  readonly setX: Dispatch<SetStateAction<OfferInput>>;
  readonly x: OfferInput;
}

/** For how long. */
export function ForDays({ o, setX, x }: ForDaysProps) {
  return (
    <label className="grid gap-1 font-medium">
      For days (for good, where empty)
      <input
        type="number"
        min={1}
        className="input input-sm w-32"
        value={o.days ?? ""}
        onChange={(e) => setX({ ...x, opens: { ...o, days: e.target.value === "" ? null : Number(e.target.value) } })}
      />
    </label>
  );
}

interface FeatureChoiceProps {
  readonly o: { kind: "feature"; feature: string; days: number | null };
  readonly setX: Dispatch<SetStateAction<OfferInput>>;
  readonly x: OfferInput;
  readonly features: readonly Choice[];
}

/** Which feature it opens. */
export function FeatureChoice({ o, setX, x, features }: FeatureChoiceProps) {
  return (
    <select
      aria-label="Which feature"
      className="select select-sm w-auto"
      value={o.feature}
      onChange={(e) => setX({ ...x, opens: { ...o, feature: e.target.value } })}
    >
      {features.map((f) => (
        <option key={f.id} value={f.id}>
          {f.name}
        </option>
      ))}
    </select>
  );
}

interface OpensChoiceProps {
  readonly id: string;
  readonly o: Opens;
  readonly setX: Dispatch<SetStateAction<OfferInput>>;
  readonly x: OfferInput;
  readonly kind: (k: "record" | "set" | "feature" | "order" | "top-up") => Opens;
}

/** What it opens. */
export function OpensChoice({ id, o, setX, x, kind }: OpensChoiceProps) {
  return (
    <label className="grid gap-1 font-medium" htmlFor={`opens-${id}`}>
      It opens
      <select
        id={`opens-${id}`}
        className="select select-sm"
        value={o.kind}
        onChange={(e) => setX({ ...x, opens: kind(e.target.value as keyof typeof OPENS) })}
      >
        {Object.entries(OPENS).map(([k, words]) => (
          <option key={k} value={k}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}

interface WhichRecordsProps {
  readonly portal: string;
  readonly o: Extract<Opens, { kind: "set" }>;
  readonly setX: Dispatch<SetStateAction<OfferInput>>;
  readonly x: OfferInput;
}

/** Which records of the table. */
export function WhichRecords({ portal, o, setX, x }: WhichRecordsProps) {
  return (
    <FilterButton
      portal={portal}
      label="Those that"
      table={o.table}
      value={o.filter}
      onChange={(filter) => setX({ ...x, opens: { ...o, filter } })}
    />
  );
}

export interface Choice {
  readonly id: string;
  readonly name: string;
}

export const OPENS = {
  order: "nothing by itself: an order to fulfil",
  feature: "a feature",
  record: "one record, chosen as it is bought",
  set: "all records of a table",
  "top-up": "more of an allowance",
} as const;

export const BUYERS = {
  company: "a company, by whoever may pay",
  person: "a company, or a person of one for themselves",
  anybody: "anybody, guests too",
} as const;

export type Opens = OfferInput["opens"];
