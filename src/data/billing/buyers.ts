/** Who is billed for a company, who it is at the provider, and the account itself. What is secret is sealed by `identity`. */
import { eq } from "drizzle-orm";
import { z } from "zod";
import { type Buyer, buyerSchema } from "@/core/billing/buyer";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { rowOf } from "../file/text";

/** What is not said yet may be empty: the agency may set the country alone. */
const keptBuyer = buyerSchema.extend({ name: z.string(), email: z.string() });

/** Where a company's invoices go; null where nobody has said. */
export function buyerOf(file: PortalFile, company: string): Buyer | null {
  const body = rowOf(file, "SELECT body FROM sys_buyers WHERE company_id = ?", company)?.[0] as string | undefined;
  const known = body === undefined ? null : keptBuyer.safeParse(JSON.parse(body));
  return known?.success ? known.data : null;
}

/** Keeps where a company's invoices go. Invoices that are made stay as they are. */
export function keepBuyer(file: PortalFile, companyId: string, buyer: Buyer, at: number): void {
  const row = { companyId, body: JSON.stringify(buyer), at };
  file.orm.insert(t.buyers).values(row).onConflictDoUpdate({ target: t.buyers.companyId, set: row }).run();
}

export interface Customer {
  readonly customer: string;
  readonly method: string | null;
  readonly words: string | null;
}

/** As this account at the provider knows it: another account knows nobody. */
export function customerOf(file: PortalFile, company: string, account: string): Customer | null {
  const row = rowOf(file, "SELECT customer, method, words FROM sys_customers WHERE company_id = ? AND account = ?", company, account);
  return row ? { customer: row[0] as string, method: row[1] as string | null, words: row[2] as string | null } : null;
}

/** Keeps by which id the provider's account knows a company. */
export function keepCustomer(file: PortalFile, companyId: string, account: string, customer: string, at: number): void {
  const row = { companyId, account, customer, method: null, words: null, at };
  file.orm.insert(t.customers).values(row).onConflictDoUpdate({ target: t.customers.companyId, set: row }).run();
}

/** Another account that knows the same customers: a rehearsal's. */
export const moveCustomers = (file: PortalFile, from: string, to: string): void =>
  void file.orm.update(t.customers).set({ account: to }).where(eq(t.customers.account, from)).run();

export type ProviderRow = typeof t.provider.$inferSelect;

/** The portal's account at the payment provider, as stored; undefined where it has none. */
export const providerRow = (file: PortalFile): ProviderRow | undefined =>
  file.orm.select().from(t.provider).where(eq(t.provider.id, 1)).get();

/** Stores the portal's account at the payment provider in place of the one before. */
export function keepProvider(file: PortalFile, row: Omit<ProviderRow, "id">): void {
  const one = { id: 1, ...row };
  file.orm.insert(t.provider).values(one).onConflictDoUpdate({ target: t.provider.id, set: one }).run();
}
/** Forgets the portal's account at the payment provider. */
export const dropProvider = (file: PortalFile): void => void file.orm.delete(t.provider).where(eq(t.provider.id, 1)).run();
