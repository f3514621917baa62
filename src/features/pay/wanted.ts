/** What is asked for, as it stands in an address and in a form; and the address of it. */
import { type Wanted, wantedSchema } from "@/core/billing/quote";

type Given = Record<string, string | string[] | undefined>;
const one = (v: string | string[] | undefined): string => (Array.isArray(v) ? (v[0] ?? "") : (v ?? ""));

/** Null of what asks for nothing that is sold. */
export function wantedIn(q: Given): Wanted | null {
  const [price, offer, invoice] = [one(q.price), one(q.offer), one(q.invoice)];
  const asked = price
    ? { kind: "plan", price, seats: Number(one(q.seats) || "1") }
    : offer
      ? { kind: "offer", offer, record: one(q.record) || null, own: one(q.own) === "1" }
      : invoice
        ? { kind: "invoice", invoice }
        : one(q.method)
          ? { kind: "method" }
          : null;
  const parsed = wantedSchema.safeParse(asked);
  return parsed.success ? parsed.data : null;
}

export function wantedQuery(w: Wanted): Record<string, string> {
  switch (w.kind) {
    case "plan":
      return { price: w.price, seats: String(w.seats) };
    case "offer":
      return { offer: w.offer, ...(w.record ? { record: w.record } : {}), ...(w.own ? { own: "1" } : {}) };
    case "invoice":
      return { invoice: w.invoice };
    case "method":
      return { method: "1" };
  }
}

export const buyHref = (base: string, w: Wanted, more: Record<string, string> = {}): string =>
  `${base}/-/buy?${new URLSearchParams({ ...wantedQuery(w), ...more })}`;
