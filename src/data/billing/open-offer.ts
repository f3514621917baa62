/** What an offer opens once it is bought: stored, and looked at before it is sold again. */
import { eq } from "drizzle-orm";
import { openedBy } from "@/core/billing/opens";
import type { Offer } from "@/core/definition/parts/plans";
import { plusDays } from "@/core/prices/periods";
import { dateIn } from "@/core/time/relative";
import { published } from "../definition/published";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import type { Bought, Checkout } from "./checkouts";
import type { Writing } from "./write-books";

interface ForWhom {
  readonly company: string;
  /** Where it is one person's alone. */
  readonly person: string | null;
}

/** Whether an earlier purchase opens the same, and as long: a second would be paid for nothing. */
export function isOpenAlready(file: PortalFile, c: Checkout, { opens }: Offer, now: number): boolean {
  const again = openedBy(opens, c.bought.records);
  if (!c.company || again.length === 0) return false;
  const today = dateIn(now, published(file).definition.portal.timeZone);
  const person = c.bought.wanted.kind === "offer" && c.bought.wanted.own ? c.person : null;
  const open = file.orm
    .select()
    .from(t.opened)
    .where(eq(t.opened.companyId, c.company))
    .all()
    .filter((o) => (o.until === null || o.until >= today) && (o.personId === null || o.personId === person));
  return again.every(({ kind, ref }) => open.some((o) => o.kind === kind && o.ref === ref));
}

/** What an offer opens, from this day. */
export function openOffer(
  file: PortalFile,
  of: ForWhom,
  offer: Offer,
  bought: Pick<Bought, "records">,
  order: string | null,
  w: Writing,
): void {
  const { opens } = offer;
  // An order opens nothing: the agency fulfils it.
  if (opens.kind === "order") return;
  const row = { companyId: of.company, orderId: order, at: w.at };
  if (opens.kind === "top-up") {
    const until = opens.days === null ? null : plusDays(w.day, opens.days);
    file.orm
      .insert(t.topUps)
      .values({ ...row, id: newId(), tableId: opens.table, n: opens.n, used: 0, until })
      .run();
    return;
  }
  const until = opens.days === null ? null : plusDays(w.day, opens.days - 1);
  const one = { ...row, personId: of.person, until, why: `bought: ${offer.name}` };
  for (const o of openedBy(opens, bought.records))
    file.orm
      .insert(t.opened)
      .values({ ...one, ...o, id: newId() })
      .run();
}
