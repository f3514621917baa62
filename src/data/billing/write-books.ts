/**
 * Writing the portal's books: orders, invoices with their lines, payments, credit notes, and what is to a company's credit. All of it by
 * Elkhorn, in the transaction of whatever led to it; what an invoice was made from is kept beside it and never changes.
 */

import { sql } from "drizzle-orm";
import type { Buyer } from "@/core/billing/buyer";
import { invoiceNumber, type Reckoned, refunded } from "@/core/billing/invoice";
import type { TaxMode } from "@/core/billing/tax";
import { type Actor, actorText } from "@/core/events/event";
import { type Book, INVOICES, LINES, ORDERS, PAYMENTS } from "@/core/schema/books";
import type { Value } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import { published } from "../definition/published";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import { rowOf, rowsOf, runOf } from "../file/text";
import { transact } from "../file/transact";
import { insertRow, updateRow } from "../tables/store";
import { addCredit } from "./credit";

export interface Writing {
  readonly actor: Actor;
  /** Milliseconds since the epoch, and the day that it is in the portal's zone. */
  readonly at: number;
  readonly day: string;
}

/** What an invoice was made from. Amounts in minor units. */
export interface Paper {
  readonly number: string;
  readonly kind: "invoice" | "credit note";
  readonly issued: string;
  readonly due: string;
  readonly currency: string;
  readonly buyer: Buyer;
  readonly seller: string;
  readonly tax: { readonly mode: TaxMode; readonly name: string; readonly rate: number };
  readonly reckoned: Reckoned;
  /** For a credit note: the number of the invoice that it corrects. */
  readonly of: string | null;
}

const made = (w: Writing): { by: string; at: string } => ({ by: actorText(w.actor), at: new Date(w.at).toISOString() });

/** `company` is where the wall of the books leads to: known here, so that no path has to be followed. */
function put(file: PortalFile, book: Book, company: string | null, values: Record<string, Value>, w: Writing): string {
  const id = newId();
  insertRow(file, published(file).policy.schema.table(book), id, values, made(w));
  if (company !== null)
    file.statements.run(
      `company of ${book}`,
      () => sql`UPDATE ${sql.identifier(book)} SET company_id = ${sql.placeholder("p0")} WHERE id = ${sql.placeholder("p1")}`,
      [company, id],
    );
  return id;
}

function set(file: PortalFile, book: Book, id: string, values: Record<string, Value>, w: Writing): void {
  const { schema } = published(file).policy;
  updateRow(file, schema, schema.table(book), id, values, made(w));
}

/** The next of its kind and year; gapless, since it is given in the transaction that uses it. */
function nextOf(file: PortalFile, kind: string, day: string): number {
  const text = "INSERT INTO sys_counters VALUES (?, ?, 1) ON CONFLICT (field_id, company_id) DO UPDATE SET n = n + 1 RETURNING n";
  return rowOf(file, text, kind, day.slice(0, 4))![0] as number;
}

export interface NewOrder {
  readonly what: string;
  readonly buyer: "company" | "person" | "guest";
  readonly company: string | null;
  readonly person: string | null;
  readonly email: string;
  readonly total: number;
}

export function addOrder(file: PortalFile, o: NewOrder, w: Writing): { id: string; number: string } {
  const number = `${published(file).definition.billing.numbers}${invoiceNumber("O", w.day, nextOf(file, "f_order_number", w.day))}`;
  const id = put(
    file,
    ORDERS,
    o.company,
    {
      f_order_number: number,
      f_order_what: o.what,
      f_order_company: o.company,
      f_order_person: o.buyer === "person" ? o.person : null,
      f_order_email: o.email,
      f_order_buyer: o.buyer,
      f_order_total: o.total,
      f_order_day: w.day,
    },
    w,
  );
  return { id, number };
}

export interface NewInvoice {
  readonly what: string;
  readonly company: string | null;
  /** Where one person of the company bought for themselves. */
  readonly person: string | null;
  readonly order: string | null;
  readonly buyer: Buyer;
  readonly tax: Paper["tax"];
  readonly reckoned: Reckoned;
  readonly due: string;
}

/** Open, or paid already where nothing is left to pay. What it takes from the company's credit is taken. */
export function addInvoice(file: PortalFile, i: NewInvoice, w: Writing): { id: string; number: string } {
  return write(file, { ...i, kind: "invoice", of: null, state: i.reckoned.due === 0 ? "paid" : "open" }, w);
}

function write(
  file: PortalFile,
  i: NewInvoice & { readonly kind: Paper["kind"]; readonly of: string | null; readonly state: string },
  w: Writing,
): { id: string; number: string } {
  const { definition } = published(file);
  const number = invoiceNumber(`${definition.billing.numbers}${i.kind === "invoice" ? "" : "C"}`, w.day, nextOf(file, i.kind, w.day));
  const { reckoned } = i;
  const id = put(
    file,
    INVOICES,
    i.company,
    {
      f_invoice_number: number,
      f_invoice_what: i.what,
      f_invoice_kind: i.kind === "invoice" ? "invoice" : "credit-note",
      f_invoice_state: i.state,
      f_invoice_company: i.company,
      f_invoice_person: i.person,
      f_invoice_buyer: i.buyer.name,
      f_invoice_order: i.order,
      f_invoice_issued: w.day,
      f_invoice_due: i.due,
      f_invoice_net: reckoned.net,
      f_invoice_tax: reckoned.tax,
      f_invoice_total: reckoned.total,
      f_invoice_credit: reckoned.credit,
      f_invoice_to_pay: reckoned.due,
      f_invoice_paid_on: i.state === "paid" ? w.day : null,
    },
    w,
  );
  for (const [place, l] of reckoned.lines.entries())
    put(
      file,
      LINES,
      i.company,
      { f_line_text: l.text, f_line_invoice: id, f_line_place: place + 1, f_line_net: l.net, f_line_tax: l.tax, f_line_total: l.gross },
      w,
    );
  const paper: Paper = {
    number,
    kind: i.kind,
    issued: w.day,
    due: i.due,
    currency: definition.portal.currency,
    buyer: i.buyer,
    seller: definition.portal.name,
    tax: i.tax,
    reckoned,
    of: i.of,
  };
  runOf(file, "INSERT INTO sys_invoice_papers (invoice_id, body) VALUES (?, ?)", id, JSON.stringify(paper));
  if (i.company && reckoned.credit > 0) addCredit(file, i.company, -reckoned.credit, `used by ${number}`, id, w.at);
  if (i.company && reckoned.left > 0) addCredit(file, i.company, reckoned.left, `left of ${number}`, id, w.at);
  return { id, number };
}

/** Whoever reads it was shown the invoice by their desk. */
export function paperOf(file: PortalFile, invoice: string): Paper | null {
  const body = rowOf(file, "SELECT body FROM sys_invoice_papers WHERE invoice_id = ?", invoice)?.[0] as string | undefined;
  return body ? (JSON.parse(body) as Paper) : null;
}

export interface PaidBy {
  /** Its id at the provider; null of what was paid outside. */
  readonly outside: string | null;
  readonly amount: number;
  /** "card ending in 4242", "bank transfer". */
  readonly by: string;
  readonly why?: string;
}

/** False where this payment stands in the books already: an event that comes twice writes nothing twice. */
export function payInvoice(file: PortalFile, invoice: string, p: PaidBy, w: Writing): boolean {
  return transact(file, () => {
    if (p.outside !== null && rowOf(file, "SELECT 1 FROM sys_payments WHERE outside = ?", p.outside)) return false;
    const id = addPayment(file, invoice, { ...p, state: "paid" }, w);
    const text = "INSERT INTO sys_payments (outside, payment_id, invoice_id, amount) VALUES (?, ?, ?, ?)";
    runOf(file, text, p.outside ?? `outside-${id}`, id, invoice, p.amount);
    set(file, INVOICES, invoice, { f_invoice_state: "paid", f_invoice_paid_on: w.day }, w);
    return true;
  });
}

/** A try that failed stands in the books, too. */
export const refusedPayment = (file: PortalFile, invoice: string, p: PaidBy, w: Writing): void =>
  void addPayment(file, invoice, { ...p, state: "refused" }, w);

function addPayment(file: PortalFile, invoice: string, p: PaidBy & { readonly state: string }, w: Writing): string {
  const number = paperOf(file, invoice)?.number ?? "";
  const values = {
    f_payment_what: number,
    f_payment_invoice: invoice,
    f_payment_state: p.state,
    f_payment_amount: p.amount,
    f_payment_by: p.by,
    f_payment_at: new Date(w.at).toISOString(),
    f_payment_why: p.why ?? null,
  };
  return put(file, PAYMENTS, companyOfInvoice(file, invoice), values, w);
}

/** Makes an open invoice void: its number stays, and nothing is owed by it. */
export const voidInvoice = (file: PortalFile, invoice: string, w: Writing): void => {
  set(file, INVOICES, invoice, { f_invoice_state: "void" }, w);
  const used = paperOf(file, invoice)?.reckoned.credit ?? 0;
  const company = companyOfInvoice(file, invoice);
  if (company && used > 0) addCredit(file, company, used, "given back with a void invoice", invoice, w.at);
};

/** Id of the company that an invoice is for; null where there is no such invoice. */
export const companyOfInvoice = (file: PortalFile, invoice: string): string | null =>
  (rowOf(file, `SELECT f_invoice_company FROM ${sqlName(INVOICES)} WHERE id = ?`, invoice)?.[0] as string | null | undefined) ?? null;

/** An invoice's state; null where there is no such invoice. */
export const stateOfInvoice = (file: PortalFile, invoice: string): string | null =>
  (rowOf(file, `SELECT f_invoice_state FROM ${sqlName(INVOICES)} WHERE id = ?`, invoice)?.[0] as string | null | undefined) ?? null;

/** Invoices of a company that are still to be paid, oldest first. */
export const openInvoices = (file: PortalFile, company: string): string[] => rowsOf(file, OPEN, company).map(([id]) => id as string);
const OPEN = `SELECT id FROM ${sqlName(INVOICES)} WHERE company_id = ? AND f_invoice_state = 'open' ORDER BY f_invoice_issued, id`;

export interface Refundable {
  readonly outside: string;
  readonly left: number;
}
/** Payments of an invoice that can still be paid back. */
export const refundable = (file: PortalFile, invoice: string): Refundable[] =>
  file.db
    .prepare("SELECT outside, amount - refunded AS left FROM sys_payments WHERE invoice_id = ? AND refunded < amount")
    .all(invoice) as Refundable[];

/** Paid back: the payment remembers it, the invoice says so, and a credit note is made. False where more would go back than came. */
export function payBack(file: PortalFile, outside: string, amount: number, why: string, w: Writing): { number: string } | null {
  return transact(file, () => {
    const of = file.db.prepare("SELECT invoice_id, amount, refunded FROM sys_payments WHERE outside = ?").get(outside) as
      | { invoice_id: string; amount: number; refunded: number }
      | undefined;
    if (!of || amount < 1 || of.refunded + amount > of.amount) return null;
    const paper = paperOf(file, of.invoice_id)!;
    const before = rowOf(file, "SELECT sum(refunded) FROM sys_payments WHERE invoice_id = ?", of.invoice_id)![0] as number;
    const back = refunded(paper.reckoned, before, amount);
    file.db.prepare("UPDATE sys_payments SET refunded = refunded + ? WHERE outside = ?").run(amount, outside);
    const line = { text: why, ...back };
    const reckoned: Reckoned = { lines: [line], net: back.net, tax: back.tax, total: back.gross, credit: 0, due: 0, left: 0 };
    const row = file.db
      .prepare(`SELECT f_invoice_company c, f_invoice_person p FROM ${sqlName(INVOICES)} WHERE id = ?`)
      .get(of.invoice_id) as {
      c: string | null;
      p: string | null;
    };
    const note = write(
      file,
      {
        what: `${paper.number}: ${why}`,
        company: row.c,
        person: row.p,
        order: null,
        buyer: paper.buyer,
        tax: paper.tax,
        reckoned,
        due: w.day,
        kind: "credit note",
        of: paper.number,
        state: "paid",
      },
      w,
    );
    addPayment(
      file,
      of.invoice_id,
      { outside: null, amount: -amount, by: outside.startsWith("outside-") ? "outside" : "card", why, state: "paid-back" },
      w,
    );
    const whole = of.refunded + amount === of.amount;
    set(file, INVOICES, of.invoice_id, { f_invoice_state: whole ? "paid-back" : "partly-paid-back" }, w);
    return { number: note.number };
  });
}
