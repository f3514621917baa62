/**
 * Who reads the portal's books. They are no part of what an owner drafts: whoever may pay for a company sees its orders, invoices and
 * payments, whatever else they are, and everybody what they bought for themselves. An owner may open them to others by grants as to any table.
 */
import { BOOKS, type Book, INVOICE_PERSON, INVOICES, isBook, ORDER_PERSON, ORDERS, WAY_TO_COMPANY } from "../schema/books";
import type { Schema } from "../schema/types";
import { EVERYONE, type Grant, type Role, type Rules, type Wall } from "./rules";

/** Held by whoever holds a role that may pay, and kept while the company has no plan: the way to pay must not close with the doors. */
export const PAYER = "payer";
const payerRole: Role = { id: PAYER, name: "Whoever may pay", side: "client", includes: [] };

/** The wall of a table of money records, which nobody sets by hand; undefined for any other table. */
export const bookWall = (table: string): Wall | undefined => (isBook(table) ? { kind: "owned", path: WAY_TO_COMPANY[table] } : undefined);

const OWN: Partial<Record<Book, string>> = { [ORDERS]: ORDER_PERSON, [INVOICES]: INVOICE_PERSON };

function grantsOn(table: Book, schema: Schema): Grant[] {
  const fields = schema.table(table).fields.map((f) => f.id);
  const grant = { table, actions: ["see", "export"], filter: null, fields, changes: [] } satisfies Partial<Grant>;
  const person = OWN[table];
  const own: Grant[] = person
    ? [
        {
          ...grant,
          id: `${table}-own`,
          roles: [EVERYONE],
          filter: { kind: "test", path: [person], operator: "is", operands: [{ kind: "viewer", of: "person", field: null }] },
        },
      ]
    : [];
  return [{ ...grant, id: `${table}-payers`, roles: [PAYER] }, ...own];
}

/** The rules with those of the books, where the portal has any. */
export function withBooks(rules: Rules, schema: Schema): Rules {
  const books = BOOKS.filter((b) => schema.findTable(b));
  if (books.length === 0) return rules;
  const roles = rules.roles.some((r) => r.id === PAYER) ? rules.roles : [...rules.roles, payerRole];
  return { ...rules, roles, grants: [...rules.grants, ...books.flatMap((b) => grantsOn(b, schema))] };
}
