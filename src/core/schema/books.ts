/** The portal's books: orders, invoices, their lines and payments. Their ids are fixed, as those of people and companies are. */
export const ORDERS = "t_orders";
export const INVOICES = "t_invoices";
export const LINES = "t_invoice_lines";
export const PAYMENTS = "t_payments";
export const BOOKS = [ORDERS, INVOICES, LINES, PAYMENTS] as const;
export type Book = (typeof BOOKS)[number];

/** Relation fields from a record of the books to the company that it is of. */
export const WAY_TO_COMPANY: Readonly<Record<Book, readonly string[]>> = {
  [ORDERS]: ["f_order_company"],
  [INVOICES]: ["f_invoice_company"],
  [LINES]: ["f_line_invoice", "f_invoice_company"],
  [PAYMENTS]: ["f_payment_invoice", "f_invoice_company"],
};

/** Who bought, where it was one person of a company for themselves. */
export const ORDER_PERSON = "f_order_person";
export const INVOICE_PERSON = "f_invoice_person";

const all: ReadonlySet<string> = new Set(BOOKS);
/** Whether a table holds records of money, which are written by payments alone. */
export const isBook = (table: string): table is Book => all.has(table);
