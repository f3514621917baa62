/** Tries to charge what a company keeps at the provider. A try is written down before it is made: killed in between, it is asked for again by the same key. */
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import { rowOf, runOf } from "../file/text";

export interface Charge {
  readonly id: string;
  readonly invoiceId: string;
  readonly companyId: string;
}

/** The try that is under way, or a new one. */
export function beginCharge(file: PortalFile, invoiceId: string, companyId: string, now: number): Charge {
  const open = rowOf(file, "SELECT id FROM sys_charges WHERE invoice_id = ? AND state = 'asked'", invoiceId);
  if (open) return { id: open[0] as string, invoiceId, companyId };
  const id = newId();
  const text = "INSERT INTO sys_charges (id, invoice_id, company_id, state, made_at) VALUES (?, ?, ?, 'asked', ?)";
  runOf(file, text, id, invoiceId, companyId, now);
  return { id, invoiceId, companyId };
}

export interface End {
  readonly state: "paid" | "refused";
  readonly payment: string | null;
  readonly why: string | null;
  readonly at: number;
}

/** False where it has ended already. */
export function endCharge(file: PortalFile, id: string, end: End): boolean {
  const text = "UPDATE sys_charges SET state = ?, payment = ?, why = ?, ended_at = ? WHERE id = ? AND state = 'asked'";
  return runOf(file, text, end.state, end.payment, end.why, end.at, id) === 1;
}

/** A charge of what is kept; undefined where there is none. */
export function chargeById(file: PortalFile, id: string): Charge | undefined {
  const row = rowOf(file, "SELECT invoice_id, company_id FROM sys_charges WHERE id = ?", id) as [string, string] | undefined;
  return row && { id, invoiceId: row[0], companyId: row[1] };
}
