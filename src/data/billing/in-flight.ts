/**
 * Payments under way. Of one company and one subject (its plan, one invoice, one thing bought once) one charge at a time: who comes second
 * waits for the first, and what cannot be had by then is not charged.
 */
import { and, eq, ne } from "drizzle-orm";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { rowOf } from "../file/text";
import { transact } from "../file/transact";
import { type Checkout, checkoutById, readCheckout } from "./checkouts";
import { stillFits } from "./settle";
import { subjectOf } from "./subject";

/** "mine": the charge may be asked of the provider, by the checkout's own key. "busy": another is under way. "unfit": it cannot be had. */
export function claimCharge(file: PortalFile, id: string, now: number): "mine" | "busy" | "unfit" | "done" {
  return transact(file, () => {
    const c = checkoutById(file, id);
    if (!c || c.state === "done") return "done";
    if (c.state === "charging") return "mine"; // the same filling-in, pressed twice: one key, one charge
    if (!stillFits(file, c, now)) return "unfit";
    if (c.company !== null && othersCharging(file, c)) return "busy";
    file.orm.update(t.checkouts).set({ state: "charging" }).where(eq(t.checkouts.id, id)).run();
    return "mine";
  });
}

function othersCharging(file: PortalFile, c: Checkout): boolean {
  const subject = subjectOf(c.bought.wanted, c.person);
  if (
    rowOf(
      file,
      "SELECT 1 FROM sys_checkouts WHERE company_id = ? AND subject = ? AND state = 'charging' AND id <> ?",
      c.company,
      subject,
      c.id,
    )
  )
    return true;
  const { wanted } = c.bought;
  return (
    wanted.kind === "invoice" &&
    rowOf(file, "SELECT 1 FROM sys_charges WHERE invoice_id = ? AND state = 'asked'", wanted.invoice) !== undefined
  );
}

/** Whether somebody is paying this invoice just now: the run of what falls due leaves it to them. */
export const isBeingPaid = (file: PortalFile, company: string, invoice: string): boolean =>
  rowOf(
    file,
    "SELECT 1 FROM sys_checkouts WHERE company_id = ? AND subject = ? AND state = 'charging'",
    company,
    subjectOf({ kind: "invoice", invoice }, null),
  ) !== undefined;

/** It was refused: another way to pay may be tried. */
export const endClaim = (file: PortalFile, id: string): void =>
  void file.orm
    .update(t.checkouts)
    .set({ state: "asked" })
    .where(and(eq(t.checkouts.id, id), eq(t.checkouts.state, "charging")))
    .run();

/** Charges of which no end is known: the process was killed, or the provider gave no answer. */
export const charging = (file: PortalFile, most: number): Checkout[] =>
  file.orm.select().from(t.checkouts).where(eq(t.checkouts.state, "charging")).limit(most).all().map(readCheckout);

/** Pages of the provider that are open for the same thing. */
export function othersOpen(file: PortalFile, c: Checkout): Checkout[] {
  if (c.company === null) return [];
  const same = and(eq(t.checkouts.companyId, c.company), eq(t.checkouts.subject, subjectOf(c.bought.wanted, c.person)));
  return file.orm
    .select()
    .from(t.checkouts)
    .where(and(same, eq(t.checkouts.state, "open"), ne(t.checkouts.id, c.id)))
    .all()
    .map(readCheckout);
}

/** Its page at the provider is closed: nobody can pay it any more. */
export const noteClosed = (file: PortalFile, id: string, now: number): void =>
  void file.orm
    .update(t.checkouts)
    .set({ state: "failed", endedAt: now, why: "Another payment for the same was begun." })
    .where(and(eq(t.checkouts.id, id), eq(t.checkouts.state, "open")))
    .run();
