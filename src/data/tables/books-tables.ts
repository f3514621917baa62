/** The tables of the portal's books, made when it first sells something: real tables, written by Elkhorn alone. Money is in the currency it then has. */

import { BOOKS, INVOICES, LINES, ORDERS, PAYMENTS } from "@/core/schema/books";
import { isMoney } from "@/core/schema/fields/natures";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../file/open";
import { transact } from "../file/transact";
import { addTable, freeTableSlug, type NewField, type NewTable } from "./change";
import { schemaOf } from "./read";

const words = (...names: string[]) => ({ choices: names.map((name) => ({ id: name.replaceAll(" ", "-"), name })) });

const tables = (currency: string): (Omit<NewTable, "slug"> & { id: string })[] => {
  const money = { currency };
  const made = (fields: NewField[]): NewField[] => fields.map((f) => ({ ...f, system: true }));
  return [
    {
      id: ORDERS,
      name: "Portal orders",
      singular: "Order",
      fields: made([
        { id: "f_order_number", slug: "number", name: "Number", type: "text" },
        { id: "f_order_what", slug: "what", name: "What", type: "text" },
        { id: "f_order_company", slug: "company", name: "Company", type: "relation", options: { target: "t_companies" } },
        { id: "f_order_person", slug: "person", name: "For", type: "relation", options: { target: "t_people" } },
        { id: "f_order_email", slug: "email", name: "E-mail", type: "email" },
        { id: "f_order_buyer", slug: "buyer", name: "Buyer", type: "choice", options: words("company", "person", "guest") },
        { id: "f_order_total", slug: "total", name: "Total", type: "money", options: money },
        { id: "f_order_day", slug: "day", name: "Day", type: "date" },
      ]),
    },
    {
      id: INVOICES,
      name: "Portal invoices",
      singular: "Invoice",
      fields: made([
        { id: "f_invoice_number", slug: "number", name: "Number", type: "text" },
        { id: "f_invoice_what", slug: "what", name: "What", type: "text" },
        { id: "f_invoice_kind", slug: "kind", name: "Kind", type: "choice", options: words("invoice", "credit note") },
        {
          id: "f_invoice_state",
          slug: "state",
          name: "State",
          type: "choice",
          options: words("open", "paid", "partly paid back", "paid back", "void"),
        },
        { id: "f_invoice_company", slug: "company", name: "Company", type: "relation", options: { target: "t_companies" } },
        { id: "f_invoice_person", slug: "person", name: "For", type: "relation", options: { target: "t_people" } },
        { id: "f_invoice_buyer", slug: "buyer", name: "Billed to", type: "text" },
        { id: "f_invoice_order", slug: "order", name: "Order", type: "relation", options: { target: ORDERS } },
        { id: "f_invoice_issued", slug: "issued", name: "Issued", type: "date" },
        { id: "f_invoice_due", slug: "due", name: "Due", type: "date" },
        { id: "f_invoice_net", slug: "net", name: "Net", type: "money", options: money },
        { id: "f_invoice_tax", slug: "tax", name: "Tax", type: "money", options: money },
        { id: "f_invoice_total", slug: "total", name: "Total", type: "money", options: money },
        { id: "f_invoice_credit", slug: "credit", name: "From credit", type: "money", options: money },
        { id: "f_invoice_to_pay", slug: "to-pay", name: "To pay", type: "money", options: money },
        { id: "f_invoice_paid_on", slug: "paid-on", name: "Paid on", type: "date" },
      ]),
    },
    {
      id: LINES,
      name: "Portal invoice lines",
      singular: "Invoice line",
      fields: made([
        { id: "f_line_text", slug: "text", name: "What for", type: "text" },
        { id: "f_line_invoice", slug: "invoice", name: "Invoice", type: "relation", options: { target: INVOICES } },
        { id: "f_line_place", slug: "place", name: "Place", type: "number", options: { decimals: 0 } },
        { id: "f_line_net", slug: "net", name: "Net", type: "money", options: money },
        { id: "f_line_tax", slug: "tax", name: "Tax", type: "money", options: money },
        { id: "f_line_total", slug: "total", name: "Total", type: "money", options: money },
      ]),
    },
    {
      id: PAYMENTS,
      name: "Portal payments",
      singular: "Payment",
      fields: made([
        { id: "f_payment_what", slug: "what", name: "What", type: "text" },
        { id: "f_payment_invoice", slug: "invoice", name: "Invoice", type: "relation", options: { target: INVOICES } },
        { id: "f_payment_state", slug: "state", name: "State", type: "choice", options: words("paid", "refused", "paid back") },
        { id: "f_payment_amount", slug: "amount", name: "Amount", type: "money", options: money },
        { id: "f_payment_by", slug: "by", name: "By", type: "text" },
        { id: "f_payment_at", slug: "at", name: "When", type: "date-time" },
        { id: "f_payment_why", slug: "why", name: "Why", type: "text" },
      ]),
    },
  ];
};

/** Whether the portal has the tables of money records. */
export const hasBooks = (file: PortalFile): boolean => schemaOf(file).findTable(INVOICES) !== undefined;

/** Makes the tables of orders, invoices and payments where they are not there yet. */
export function keepBooks(file: PortalFile, currency: string): void {
  if (hasBooks(file)) return;
  transact(file, () => {
    for (const spec of tables(currency)) addTable(file, { ...spec, kind: "books", slug: freeTableSlug(schemaOf(file), spec.name) });
    // Asked for at each thing that falls due.
    file.db.exec(`CREATE INDEX "ix_f_invoice_open" ON ${sqlName(INVOICES)} (company_id) WHERE f_invoice_state = 'open'`);
  });
}

/** The currency that the books are kept in; null where there are none. */
export function currencyOfBooks(file: PortalFile): string | null {
  const total = schemaOf(file).findField("f_invoice_total");
  return total !== undefined && isMoney(total) ? total.options.currency : null;
}

/** Whether there is any record of money. */
export const booksWritten = (file: PortalFile): boolean =>
  hasBooks(file) && BOOKS.some((b) => file.db.prepare(`SELECT 1 FROM ${sqlName(b)} LIMIT 1`).get() !== undefined);
