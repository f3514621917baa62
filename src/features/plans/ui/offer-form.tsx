"use client";
/** Something bought once: what it costs, who may buy it, and what it opens. */
import { type Dispatch, type SetStateAction, useState } from "react";
import type { Offer } from "@/core/definition/parts/plans";
import type { DraftAnswer } from "@/office/draft";
import { FilterButton } from "@/office/filter/filter-button";
import { KeepOrCancel } from "@/office/ui/keep-or-cancel";
import { dropOffer, type OfferInput, saveOffer } from "../actions";
import { useTried } from "./try-first";

interface Choice {
  readonly id: string;
  readonly name: string;
}
interface Props {
  portal: string;
  revision: number;
  offer: (Offer & { readonly written: string }) | null;
  published: boolean;
  features: readonly Choice[];
  tables: readonly Choice[];
}

const OPENS = {
  order: "nothing by itself: an order to fulfil",
  feature: "a feature",
  record: "one record, chosen as it is bought",
  set: "all records of a table",
  "top-up": "more of an allowance",
} as const;
const BUYERS = {
  company: "a company, by whoever may pay",
  person: "a company, or a person of one for themselves",
  anybody: "anybody, guests too",
} as const;

export function OfferForm({ portal, revision, offer, published, features, tables }: Props) {
  const [open, setOpen] = useState(false);
  const [x, setX] = useState<OfferInput>({
    id: offer?.id ?? null,
    name: offer?.name ?? "",
    about: offer?.about ?? "",
    price: offer?.written ?? "",
    buyer: offer?.buyer ?? "company",
    retired: offer?.retired ?? false,
    opens: offer?.opens ?? { kind: "order" },
  });
  const { problem, busy, attempt } = useTried();
  const id = offer?.name ?? "new";
  if (!open)
    return (
      <OfferButtons
        offer={offer}
        setOpen={setOpen}
        published={published}
        busy={busy}
        attempt={attempt}
        portal={portal}
        revision={revision}
      />
    );
  const o = x.opens;
  const kind = (k: keyof typeof OPENS): OfferInput["opens"] => {
    const table = tables[0]?.id ?? "";
    if (k === "feature") return { kind: k, feature: features[0]?.id ?? "", days: null };
    if (k === "record") return { kind: k, table, days: null };
    if (k === "set") return { kind: k, table, filter: null, days: null };
    if (k === "top-up") return { kind: k, table, n: 5, days: 92 };
    return { kind: "order" };
  };
  return (
    <div className="grid gap-3 rounded-box border border-base-300 p-4 text-sm whitespace-normal">
      <div className="flex flex-wrap items-end gap-3">
        <label className="grid grow gap-1 font-medium">
          Name
          <input className="input input-sm w-full" maxLength={120} value={x.name} onChange={(e) => setX({ ...x, name: e.target.value })} />
        </label>
        <label className="grid gap-1 font-medium">
          Price
          <input className="input input-sm w-28" value={x.price} onChange={(e) => setX({ ...x, price: e.target.value })} />
        </label>
      </div>
      <label className="grid gap-1 font-medium">
        What it is, in a sentence
        <input className="input input-sm w-full" maxLength={300} value={x.about} onChange={(e) => setX({ ...x, about: e.target.value })} />
      </label>
      <div className="flex flex-wrap items-end gap-3">
        <BuyerChoice id={id} x={x} setX={setX} />
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
        {o.kind === "feature" && (
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
        )}
        {"table" in o && (
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
        )}
        {o.kind === "set" && (
          <FilterButton
            portal={portal}
            label="Those that"
            table={o.table}
            value={o.filter}
            onChange={(filter) => setX({ ...x, opens: { ...o, filter } })}
          />
        )}
        {o.kind === "top-up" && (
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
        )}
        {"days" in o && (
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
        )}
      </div>
      {(o.kind === "record" || o.kind === "set") && (
        <p className="quiet max-w-prose">
          What was bought is a value of whoever looks: a grant whose filter says “the record itself is what was bought one by one” opens it.
        </p>
      )}
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={x.retired}
          onChange={(e) => setX({ ...x, retired: e.target.checked })}
        />{" "}
        Not sold any more
      </label>
      <KeepOrCancel
        problem={problem}
        busy={busy}
        keep={() =>
          attempt(
            () => saveOffer(portal, revision, x),
            () => setOpen(false),
          )
        }
        cancel={() => setOpen(false)}
      />
    </div>
  );
}

interface BuyerChoiceProps {
  readonly id: string;
  readonly x: OfferInput;
  readonly setX: Dispatch<SetStateAction<OfferInput>>;
}

/** Who may buy it. */
function BuyerChoice({ id, x, setX }: BuyerChoiceProps) {
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

interface OfferButtonsProps {
  readonly offer: Props["offer"];
  readonly setOpen: Dispatch<SetStateAction<boolean>>;
  readonly published: boolean;
  readonly busy: boolean;
  readonly attempt: (change: () => Promise<DraftAnswer>, then?: () => void) => void;
  readonly portal: string;
  readonly revision: number;
}

/** Change it, or take it away. */
function OfferButtons({ offer, setOpen, published, busy, attempt, portal, revision }: OfferButtonsProps) {
  return (
    <span className="flex gap-4">
      <button type="button" className={offer ? "link-plain min-h-6 text-sm" : "btn btn-sm w-fit"} onClick={() => setOpen(true)}>
        {offer ? "Change" : "New, bought once"}
        {offer && <span className="sr-only"> {offer.name}</span>}
      </button>
      {offer && !published && (
        <button
          type="button"
          className="link-plain min-h-6 text-sm"
          disabled={busy}
          onClick={() => attempt(() => dropOffer(portal, revision, offer.id))}
        >
          Take away<span className="sr-only"> {offer.name}</span>
        </button>
      )}
    </span>
  );
}
