/** What somebody asks to buy, reckoned for them: its lines in words, its tax, what their credit covers, and when it holds. */
import { assertNever } from "@/core/assert-never";
import type { Buyer } from "@/core/billing/buyer";
import { rateFor, reckon } from "@/core/billing/invoice";
import { lineIn } from "@/core/billing/lines";
import { recordsOpened } from "@/core/billing/opens";
import { type Buying, leastSeats, type Quote, type QuoteLine, quoteOffer, quotePlan, type Wanted } from "@/core/billing/quote";
import { asksCountry } from "@/core/billing/tax";
import type { Definition } from "@/core/definition/definition";
import { err, ok, type Result } from "@/core/result";
import { dateIn } from "@/core/time/relative";
import type { Say } from "@/core/words/words";
import { buyerOf } from "@/data/billing/buyers";
import type { Bought } from "@/data/billing/checkouts";
import { creditOf } from "@/data/billing/credit";
import { seatsTaken } from "@/data/billing/people";
import { standingOf, subscriptionOf } from "@/data/billing/standing";
import { paperOf } from "@/data/billing/write-books";
import { Desk } from "@/data/records/desk";
import type { PortalRequest } from "@/identity/requests/request";
import { ifBought, ownerViewer } from "@/identity/viewers/viewer";
import { mayPay, sayHere } from "./here";

/** Why it cannot be bought, as data; `way` is where it makes sense to go. */
export type NotSold =
  | { readonly no: "gone" | "already" | "due" | "ending" | "paused" | "not-you" | "sign-in" | "offline" | "country" | "have-it" }
  | { readonly no: "seats"; readonly least: number };

export interface Offered {
  readonly quote: Quote;
  readonly bought: Omit<Bought, "buyer">;
  /** The least number of seats; null where there are none to choose. */
  readonly least: number | null;
}

export function buyingHere(r: PortalRequest): Buying {
  const { definition } = r.published;
  const company = r.viewer.company?.id ?? null;
  const today = dateIn(r.viewer.now, definition.portal.timeZone);
  if (company === null) return { company, life: null, before: false, people: 0, day: today };
  const stored = subscriptionOf(r.file, company);
  const before = standingOf(r.file, definition, company, today).plan !== null;
  return { company, life: stored?.life ?? null, before, people: seatsTaken(r.file, company), day: today };
}

/** The address that the company of whoever looks is billed at; undefined where there is none, or no company. */
export const knownBuyer = (r: PortalRequest): Buyer | undefined => (r.viewer.company && buyerOf(r.file, r.viewer.company.id)) || undefined;

/** The buyer's address as it is known: of the company, or of whoever looks. */
export function buyerHere(r: PortalRequest, email: string, known = knownBuyer(r)): Buyer {
  const { company, person } = r.viewer;
  const own = person ? String(person.values.f_person_email ?? "") : email;
  const name = company?.name ?? person?.name ?? "";
  if (!known) return { name, email: own, address: "", country: "", taxNumber: "", reference: "" };
  return { ...known, name: known.name || name, email: known.email || own };
}

/**
 * Where whoever is billed is (ISO 3166-1 alpha-2): of a company as it is known, which no payer changes; `said` only where nothing is known, or
 * somebody buys for themselves. Empty where it is not known.
 */
export function countryHere(r: PortalRequest, wanted: Wanted, said: string, known = knownBuyer(r)): string {
  const country = known?.country ?? "";
  const own = r.viewer.company === null || (wanted.kind === "offer" && wanted.own);
  const code = own ? said || country : country || said;
  return /^[A-Z]{2}$/.test(code) ? code : "";
}

/** The error "country" asks where the buyer is, before any sum is shown: the tax depends on it. */
export function offerHere(r: PortalRequest, wanted: Wanted, country: string): Result<Offered, NotSold> {
  const { definition } = r.published;
  const b = buyingHere(r);
  const allowed = mayBuy(r, wanted);
  if (allowed) return err({ no: allowed });
  const quote = quoteOf(r, wanted, b);
  if ("no" in quote) return err(quote);
  const records = wanted.kind === "offer" ? recordsFor(r, wanted) : [];
  if (records === null) return err({ no: "gone" });
  if (wanted.kind === "offer" && hasAlready(r, wanted, records)) return err({ no: "have-it" });
  if (country === "" && asksCountry(definition.billing.tax) && quote.lines.length + (quote.renewal ? 1 : 0) > 0)
    return err({ no: "country" });
  const say = sayHere(r);
  const lines = quote.lines.map((l) => ({ text: lineText(r, say, l), amount: l.amount }));
  const rate = rateFor(definition.billing.tax.rates, country || null);
  const { mode } = definition.billing.tax;
  const credit = b.company === null || (wanted.kind === "offer" && wanted.own) ? 0 : Math.max(0, creditOf(r.file, b.company));
  const reckoned = wanted.kind === "invoice" ? paperOf(r.file, wanted.invoice)!.reckoned : reckon(lines, mode, rate, credit);
  const tax = { mode: rate ? mode : ("none" as const), name: rate?.name ?? "", rate: rate?.rate ?? 0 };
  const price = wanted.kind === "plan" ? definition.prices.find((p) => p.id === wanted.price) : undefined;
  return ok({
    quote,
    bought: {
      wanted,
      what: whatOf(r, say, wanted),
      lines,
      reckoned,
      tax,
      happening: quote.happening,
      day: b.day,
      records,
      // For what never costs anything no way to pay is asked for.
      keep: b.company !== null && (wanted.kind === "plan" ? (quote.renewal?.amount ?? 0) > 0 : wanted.kind !== "offer"),
    },
    least: price?.per === "seat" ? leastSeats(price, b.people) : null,
  });
}

function quoteOf(r: PortalRequest, wanted: Wanted, b: ReturnType<typeof buyingHere>): Quote | NotSold {
  const { definition } = r.published;
  switch (wanted.kind) {
    case "plan":
      return quotePlan(definition, wanted, b);
    case "offer":
      return quoteOffer(definition.offers, wanted);
    case "invoice":
    case "method":
      return plain(r, wanted);
    default:
      return assertNever(wanted);
  }
}

/** Null where they may. The server decides here, for pages and for what is sent alike. */
function mayBuy(r: PortalRequest, wanted: Wanted): "not-you" | "sign-in" | "gone" | null {
  const { definition } = r.published;
  if (wanted.kind !== "offer") return r.viewer.kind !== "person" ? "sign-in" : mayPay(r) ? null : "not-you";
  const offer = definition.offers.find((o) => o.id === wanted.offer);
  if (!offer) return "gone";
  if (r.viewer.kind !== "person") return offer.buyer === "anybody" && offer.opens.kind === "order" ? null : "sign-in";
  if (wanted.own) return offer.buyer === "company" || r.viewer.company === null ? "not-you" : null;
  return mayPay(r) ? null : "not-you";
}

/** An open invoice, or a way to pay. Whoever may pay sees the invoices of their company, and no others. */
function plain(r: PortalRequest, wanted: Extract<Wanted, { kind: "invoice" | "method" }>): Quote | NotSold {
  const none = { lines: [], when: "now", from: "", renewal: null, happening: null } as const;
  if (wanted.kind === "method") return none;
  const table = r.published.policy.schema.findTable("t_invoices");
  const seen = table && r.desk.read(table, wanted.invoice);
  if (seen?.fields.f_invoice_state !== "open") return { no: "gone" };
  return none;
}

/** Records that an offer opens: the one that was chosen, which must be one that the buyer knows of; or all that its filter has now. */
function recordsFor(r: PortalRequest, wanted: Extract<Wanted, { kind: "offer" }>): string[] | null {
  const offer = r.published.definition.offers.find((o) => o.id === wanted.offer);
  if (!offer || recordsOpened(offer.opens) === null || !("table" in offer.opens)) return [];
  const table = r.published.policy.schema.findTable(offer.opens.table);
  if (!table) return null;
  if (offer.opens.kind !== "set") return wanted.record && r.desk.read(table, wanted.record) ? [wanted.record] : null;
  // What the set is made of is the owner's to say: whether a record of it may be read is asked of the grants, as ever.
  const owner = new Desk(r.file, r.published.policy, ownerViewer({ id: "payments", name: "" }, r.viewer.now, r.viewer.timeZone));
  return owner.list(table, { condition: offer.opens.filter, limit: MOST_OF_A_SET }).records.map((x) => x.id);
}
/** Whether it would open nothing that is not open to the buyer now: by an earlier purchase, by the plan, or to everybody. */
function hasAlready(r: PortalRequest, wanted: Extract<Wanted, { kind: "offer" }>, records: readonly string[]): boolean {
  const offer = r.published.definition.offers.find((o) => o.id === wanted.offer)!;
  const { opens } = offer;
  if (opens.kind === "feature") return r.viewer.kind === "person" && r.viewer.features.has(opens.feature);
  if (recordsOpened(opens) === null || !("table" in opens)) return false;
  if (records.length === 0 || r.viewer.kind !== "person") return false;
  const table = r.desk.schema.table(opens.table);
  const having = new Desk(r.file, r.published.policy, ifBought(r.viewer, records));
  const sees = (d: Desk, id: string): number => Object.keys(d.read(table, id)?.fields ?? {}).length;
  return records.every((id) => r.viewer.bought.includes(id) || (sees(having, id) === sees(r.desk, id) && sees(r.desk, id) > 0));
}
const MOST_OF_A_SET = 1_000;

const planName = (d: Definition, id: string): string => d.plans.find((p) => p.id === id)?.name ?? "";

export function lineText(r: Pick<PortalRequest, "published" | "desk">, say: Say, l: QuoteLine): string {
  const { definition, policy } = r.published;
  if (l.kind === "offer") {
    const offer = definition.offers.find((o) => o.id === l.offer);
    const table = offer && "table" in offer.opens ? policy.schema.findTable(offer.opens.table) : undefined;
    const label = l.record && table ? r.desk.labelOf(table, l.record) : undefined;
    return label ? say("line.of", { offer: offer?.name ?? "", record: label }) : (offer?.name ?? "");
  }
  return lineIn(definition, l, say);
}

function whatOf(r: PortalRequest, say: Say, wanted: Wanted): string {
  const { definition } = r.published;
  switch (wanted.kind) {
    case "plan": {
      const price = definition.prices.find((p) => p.id === wanted.price)!;
      const seats = price.per === "seat" ? wanted.seats : 1;
      return say(`line.plan-${price.cycle}`, { plan: planName(definition, price.plan), seats });
    }
    case "offer":
      return lineText(r, say, { kind: "offer", offer: wanted.offer, record: wanted.record, amount: 0 });
    case "invoice":
      return say("line.invoice", { number: paperOf(r.file, wanted.invoice)?.number ?? "" });
    case "method":
      return say("line.method");
  }
}
