"use client";
/** Acts with one company's plan and money, each with its reason. One is open at a time. */
import { type Dispatch, type ReactNode, type SetStateAction, useState } from "react";
import type { CompanyAct } from "../acts";
import { doForCompany } from "../company-actions";
import { useTried } from "./try-first";
import { WithReason } from "./with-reason";

interface Choice {
  readonly id: string;
  readonly name: string;
}
interface Props {
  portal: string;
  company: string;
  acts: readonly ("plan" | "days" | "feature" | "credit" | "country" | "pause" | "resume" | "cancel")[];
  prices: readonly (Choice & { readonly seats: boolean; readonly least: number })[];
  features: readonly Choice[];
  countries: readonly { readonly code: string; readonly name: string }[];
  /** Where it is billed now; empty where that is not known. */
  country: string;
}

const NAMES = {
  plan: "Put on a plan",
  days: "Give days",
  feature: "Give a feature",
  credit: "Give credit",
  country: "Set billing country",
  pause: "Pause",
  resume: "Resume",
  cancel: "Cancel at its end",
} as const;

type ActName = keyof typeof NAMES;

/** As it was typed, whichever of the acts it is for. */
interface Written {
  days: string;
  feature: string;
  until: string;
  amount: string;
  country: string;
  price: string;
  seats: string;
  reason: string;
}

export function CompanyActs({ portal, company, acts, prices, features, countries, country }: Props) {
  const { open, setOpen, x, setX, problem, busy, attempt, price, input, field } = useCompanyActs({ prices, features, country });
  return (
    <div className="grid gap-3 text-sm">
      <ActChoice acts={acts} open={open} setX={setX} x={x} setOpen={setOpen} />
      {open && (
        <div className="flex flex-wrap items-end gap-3 rounded-box border border-base-300 p-4">
          {open === "days" &&
            field(
              "How many",
              <input
                type="number"
                min={1}
                className="input input-sm w-24"
                value={x.days}
                onChange={(e) => setX({ ...x, days: e.target.value })}
              />,
            )}
          {open === "country" && field("Country", <CountryChoice x={x} setX={setX} countries={countries} />)}
          {open === "plan" && field("Price", <PriceChoice x={x} setX={setX} prices={prices} />)}
          {open === "plan" &&
            price?.seats &&
            field(
              "Seats",
              <input
                type="number"
                min={price.least}
                className="input input-sm w-24"
                value={x.seats}
                onChange={(e) => setX({ ...x, seats: e.target.value })}
              />,
            )}
          {open === "feature" && field("Feature", <FeatureChoice x={x} setX={setX} features={features} />)}
          {open === "feature" &&
            field(
              "Until (for good, where empty)",
              <input type="date" className="input input-sm" value={x.until} onChange={(e) => setX({ ...x, until: e.target.value })} />,
            )}
          {open === "credit" &&
            field(
              "Amount",
              <input className="input input-sm w-28" value={x.amount} onChange={(e) => setX({ ...x, amount: e.target.value })} />,
            )}
          <WithReason
            reason={x.reason}
            onReason={(reason) => setX({ ...x, reason })}
            does="Do it now"
            busy={busy}
            onDo={() =>
              attempt(
                () => doForCompany(portal, company, input(open)),
                () => {
                  setOpen(null);
                  setX({ ...x, reason: "" });
                },
              )
            }
            problem={problem}
          />
        </div>
      )}
    </div>
  );
}

/** Which act is open, and what was typed for it. */
function useCompanyActs({ prices, features, country }: Pick<Props, "prices" | "features" | "country">) {
  const [open, setOpen] = useState<ActName | null>(null);
  const [x, setX] = useState<Written>({
    days: "7",
    feature: features[0]?.id ?? "",
    until: "",
    amount: "",
    country,
    price: prices[0]?.id ?? "",
    seats: "1",
    reason: "",
  });
  const { problem, busy, attempt } = useTried();
  const price = prices.find((p) => p.id === x.price);
  const input = (act: keyof typeof NAMES): CompanyAct => {
    switch (act) {
      case "days":
        return { act, days: x.days, reason: x.reason };
      case "feature":
        return { act, feature: x.feature, until: x.until, reason: x.reason };
      case "credit":
        return { act, amount: x.amount, reason: x.reason };
      case "country":
        return { act, country: x.country, reason: x.reason };
      case "plan":
        return { act, price: x.price, seats: price?.seats ? x.seats : "1", reason: x.reason };
      default:
        return { act, reason: x.reason };
    }
  };
  const field = (label: string, box: ReactNode): ReactNode => (
    // biome-ignore lint/a11y/noLabelWithoutControl: the box is the control
    <label className="grid gap-1 font-medium">
      {label}
      {box}
    </label>
  );
  return { open, setOpen, x, setX, problem, busy, attempt, price, input, field };
}

interface ActChoiceProps {
  readonly acts: Props["acts"];
  readonly open: ActName | null;
  readonly setX: Dispatch<SetStateAction<Written>>;
  readonly x: Written;
  readonly setOpen: Dispatch<SetStateAction<ActName | null>>;
}

/** What can be done. */
function ActChoice({ acts, open, setX, x, setOpen }: ActChoiceProps) {
  return (
    <div className="flex flex-wrap gap-2">
      {acts.map((a) => (
        <button
          key={a}
          type="button"
          className={`btn btn-sm ${open === a ? "btn-primary" : ""}`}
          aria-expanded={open === a}
          onClick={() => {
            // A reason is of one act: it does not go along to another.
            setX({ ...x, reason: "" });
            setOpen(open === a ? null : a);
          }}
        >
          {NAMES[a]}
        </button>
      ))}
    </div>
  );
}

interface CountryChoiceProps {
  readonly x: Written;
  readonly setX: Dispatch<SetStateAction<Written>>;
  readonly countries: readonly { code: string; name: string }[];
}

/** The country that it is billed in. */
function CountryChoice({ x, setX, countries }: CountryChoiceProps) {
  return (
    <select className="select select-sm" value={x.country} onChange={(e) => setX({ ...x, country: e.target.value })}>
      <option value="">Choose a country</option>
      {countries.map((c) => (
        <option key={c.code} value={c.code}>
          {c.name}
        </option>
      ))}
    </select>
  );
}

interface PriceChoiceProps {
  readonly x: Written;
  readonly setX: Dispatch<SetStateAction<Written>>;
  readonly prices: readonly (Choice & { readonly seats: boolean; readonly least: number })[];
}

/** Which price. */
function PriceChoice({ x, setX, prices }: PriceChoiceProps) {
  return (
    <select className="select select-sm" value={x.price} onChange={(e) => setX({ ...x, price: e.target.value })}>
      {prices.map((p) => (
        <option key={p.id} value={p.id}>
          {p.name}
        </option>
      ))}
    </select>
  );
}

interface FeatureChoiceProps {
  readonly x: Written;
  readonly setX: Dispatch<SetStateAction<Written>>;
  readonly features: readonly Choice[];
}

/** Which feature. */
function FeatureChoice({ x, setX, features }: FeatureChoiceProps) {
  return (
    <select className="select select-sm" value={x.feature} onChange={(e) => setX({ ...x, feature: e.target.value })}>
      {features.map((f) => (
        <option key={f.id} value={f.id}>
          {f.name}
        </option>
      ))}
    </select>
  );
}
