/** Tries to charge what a company keeps at the provider. A try is written down before it is made: killed in between, it is asked for again by the same key. */
import { and, eq } from "drizzle-orm";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";

export type Charge = typeof t.charges.$inferSelect;

/** The try that is under way, or a new one. */
export function beginCharge(file: PortalFile, invoiceId: string, companyId: string, now: number): Charge {
  const open = file.orm
    .select()
    .from(t.charges)
    .where(and(eq(t.charges.invoiceId, invoiceId), eq(t.charges.state, "asked")))
    .get();
  if (open) return open;
  const row = { id: newId(), invoiceId, companyId, state: "asked", madeAt: now, endedAt: null, payment: null, why: null };
  file.orm.insert(t.charges).values(row).run();
  return row;
}

/** False where it has ended already. */
export const endCharge = (
  file: PortalFile,
  id: string,
  end: { readonly state: "paid" | "refused"; readonly payment: string | null; readonly why: string | null; readonly at: number },
): boolean =>
  file.orm
    .update(t.charges)
    .set({ state: end.state, payment: end.payment, why: end.why, endedAt: end.at })
    .where(and(eq(t.charges.id, id), eq(t.charges.state, "asked")))
    .run().changes === 1;

export const chargeById = (file: PortalFile, id: string): Charge | undefined =>
  file.orm.select().from(t.charges).where(eq(t.charges.id, id)).get();
