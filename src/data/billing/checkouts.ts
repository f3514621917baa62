/** Checkouts: what somebody wants to buy, from the form to the provider. A filling-in of the form is one, however often it is sent. */
import { and, eq, lt } from "drizzle-orm";
import type { Buyer } from "@/core/billing/buyer";
import type { Reckoned } from "@/core/billing/invoice";
import type { Wanted } from "@/core/billing/quote";
import type { Happening } from "@/core/billing/subscription";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { transact } from "../file/transact";
import { subjectOf } from "./subject";
import type { Paper } from "./write-books";

export interface Bought {
  readonly wanted: Wanted;
  readonly what: string;
  readonly lines: readonly { readonly text: string; readonly amount: number }[];
  readonly reckoned: Reckoned;
  readonly tax: Paper["tax"];
  readonly buyer: Buyer;
  readonly happening: Happening | null;
  /** The day in the portal's zone for which it was reckoned. */
  readonly day: string;
  /** Records that an offer opens, as they were then. */
  readonly records: readonly string[];
  /** Whether the way to pay is kept. */
  readonly keep: boolean;
}

export interface Checkout {
  readonly id: string;
  /** asked: not at the provider yet. charging: what is kept is being charged. open: its page at the provider is open. */
  readonly state: "asked" | "charging" | "open" | "done" | "failed";
  readonly company: string | null;
  readonly person: string | null;
  readonly email: string;
  readonly bought: Bought;
  readonly account: string;
  readonly outside: string | null;
  readonly url: string | null;
  readonly back: string;
  readonly order: string | null;
  readonly why: string | null;
  readonly madeAt: number;
}

export const readCheckout = (row: typeof t.checkouts.$inferSelect): Checkout => ({
  id: row.id,
  state: row.state as Checkout["state"],
  company: row.companyId,
  person: row.personId,
  email: row.email,
  bought: JSON.parse(row.body) as Bought,
  account: row.account,
  outside: row.outside,
  url: row.url,
  back: row.back,
  order: row.orderId,
  why: row.why,
  madeAt: row.madeAt,
});

export interface NewCheckout {
  readonly filling: string;
  readonly company: string | null;
  readonly person: string | null;
  readonly email: string;
  readonly bought: Bought;
  readonly account: string;
  readonly back: string;
  readonly now: number;
}

/** The one of this filling-in, made now or before. Null where the same filling-in is somebody else's. */
export function beginCheckout(file: PortalFile, c: NewCheckout): Checkout | null {
  return transact(file, () => {
    const known = file.orm.select().from(t.checkouts).where(eq(t.checkouts.filling, c.filling)).get();
    if (known) return known.companyId === c.company && known.personId === c.person ? readCheckout(known) : null;
    const row = {
      id: newId(),
      filling: c.filling,
      state: "asked",
      subject: subjectOf(c.bought.wanted, c.person),
      companyId: c.company,
      personId: c.person,
      email: c.email,
      body: JSON.stringify(c.bought),
      account: c.account,
      outside: null,
      url: null,
      back: c.back,
      madeAt: c.now,
      endedAt: null,
      orderId: null,
      why: null,
    };
    file.orm.insert(t.checkouts).values(row).run();
    return readCheckout(row);
  });
}

/** Keeps by which id and address the provider has a checkout. */
export const noteOpen = (file: PortalFile, id: string, at: { readonly outside: string; readonly url: string }): void =>
  void file.orm
    .update(t.checkouts)
    .set({ ...at, state: "open" })
    .where(and(eq(t.checkouts.id, id), eq(t.checkouts.state, "asked")))
    .run();

/** A checkout with what was asked for; null where there is none. */
export function checkoutById(file: PortalFile, id: string): Checkout | null {
  const row = file.orm.select().from(t.checkouts).where(eq(t.checkouts.id, id)).get();
  return row ? readCheckout(row) : null;
}

/** Those that are open at the provider and may have been paid without a word coming back. */
export const openCheckouts = (file: PortalFile, before: number, most: number): Checkout[] =>
  file.orm
    .select()
    .from(t.checkouts)
    .where(and(eq(t.checkouts.state, "open"), lt(t.checkouts.madeAt, before)))
    .limit(most)
    .all()
    .map(readCheckout);
