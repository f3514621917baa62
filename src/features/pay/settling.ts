/** What the provider says, taken in: settled once and told, whoever brings the word. */
import { chargeById } from "@/data/billing/charges";
import { type Settled, settle } from "@/data/billing/settle";
import type { PortalFile } from "@/data/file/open";
import { transact } from "@/data/file/transact";
import { recordSettled } from "@/orders/letters";
import type { Outcome, PaymentEvent } from "@/services/payments/contract";
import { chargeEnded } from "./charging";

/** Null where it is settled already, or not paid. */
export function settlePaid(file: PortalFile, checkout: string, o: Outcome, now: number): Settled | null {
  if (o.state !== "paid") return null;
  return transact(file, () => {
    const done = settle(file, checkout, o, now);
    if (done) recordSettled(file, done, now);
    return done;
  });
}

/** An event of the provider, which may come twice, late and in any order: each word is about one checkout or charge, and settled once. */
export function takeEvent(file: PortalFile, e: PaymentEvent, now: number): void {
  if (e.type === "checkout") settlePaid(file, e.outcome.reference, e.outcome, now);
  // What is kept is charged for invoices that fall due, and for what somebody buys while they are there.
  if (e.type === "charge" && chargeById(file, e.outcome.reference)) chargeEnded(file, e.outcome.reference, e.outcome, now);
  else if (e.type === "charge") settlePaid(file, e.outcome.reference, e.outcome, now);
}
