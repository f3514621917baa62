/** One invoice as its buyer sees it: through their desk, so that another's reads as one that is not there. */

import { INVOICES, PAYMENTS } from "@/core/schema/books";
import type { SeenRecord } from "@/core/schema/seen";
import { type Paper, paperOf } from "@/data/billing/write-books";
import type { PortalRequest } from "@/identity/requests/request";

export interface SeenInvoice {
  readonly record: SeenRecord;
  readonly paper: Paper;
  readonly payments: readonly SeenRecord[];
}

/** An invoice, for those who pay for its company or bought it; null to anybody else. */
export function invoiceHere(r: PortalRequest, id: string): SeenInvoice | null {
  const { schema } = r.published.policy;
  const table = schema.findTable(INVOICES);
  const record = table && r.desk.read(table, id);
  const paper = record && paperOf(r.file, id);
  if (!record || !paper) return null;
  const of = schema.table(PAYMENTS);
  const payments = r.desk.may(of, "see")
    ? r.desk.list(of, {
        condition: { kind: "test", path: ["f_payment_invoice"], operator: "is", operands: [{ kind: "literal", value: id }] },
        sort: [{ field: "f_payment_at", descending: false }],
        limit: 50,
      }).records
    : [];
  return { record, paper, payments };
}
