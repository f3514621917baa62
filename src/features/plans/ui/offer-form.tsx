"use client";
import { type Dispatch, type SetStateAction, useState } from "react";
import type { Offer } from "@/core/definition/parts/plans";
import type { DraftAnswer } from "@/office/draft";
import { KeepOrCancel } from "@/office/ui/keep-or-cancel";
import { dropOffer, type OfferInput, saveOffer } from "../actions";
import {
  BuyerChoice,
  type Choice,
  FeatureChoice,
  ForDays,
  HowManyMore,
  type OPENS,
  OpensChoice,
  TableChoice,
  WhichRecords,
} from "./offer-parts";
import { useTried } from "./try-first";

interface Props {
  portal: string;
  revision: number;
  offer: (Offer & { readonly written: string }) | null;
  published: boolean;
  features: readonly Choice[];
  tables: readonly Choice[];
}

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
      <OfferName x={x} setX={setX} />
      <label className="grid gap-1 font-medium">
        What it is, in a sentence
        <input className="input input-sm w-full" maxLength={300} value={x.about} onChange={(e) => setX({ ...x, about: e.target.value })} />
      </label>
      <div className="flex flex-wrap items-end gap-3">
        <BuyerChoice id={id} x={x} setX={setX} />
        <OpensChoice id={id} o={o} setX={setX} x={x} kind={kind} />
        {o.kind === "feature" && <FeatureChoice o={o} setX={setX} x={x} features={features} />}
        {"table" in o && <TableChoice o={o} setX={setX} x={x} tables={tables} />}
        {o.kind === "set" && <WhichRecords portal={portal} o={o} setX={setX} x={x} />}
        {o.kind === "top-up" && <HowManyMore o={o} setX={setX} x={x} />}
        {"days" in o && <ForDays o={o} setX={setX} x={x} />}
      </div>
      {(o.kind === "record" || o.kind === "set") && (
        <p className="quiet max-w-prose">
          What was bought is a value of whoever looks: a grant whose filter says “the record itself is what was bought one by one” opens it.
        </p>
      )}
      <SoldNoMore x={x} setX={setX} />
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

/** Its name and price. */
function OfferName({ x, setX }: { x: OfferInput; setX: Dispatch<SetStateAction<OfferInput>> }) {
  return (
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
  );
}

/** Whether it is still sold. */
function SoldNoMore({ x, setX }: { x: OfferInput; setX: Dispatch<SetStateAction<OfferInput>> }) {
  return (
    <label className="flex items-center gap-2">
      <input
        type="checkbox"
        className="checkbox checkbox-sm"
        checked={x.retired}
        onChange={(e) => setX({ ...x, retired: e.target.checked })}
      />{" "}
      Not sold any more
    </label>
  );
}
