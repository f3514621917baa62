import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { rowOf } from "../file/text";

/** Puts an amount in minor units to a company's credit; less than nothing uses it. */
export const addCredit = (file: PortalFile, companyId: string, amount: number, why: string, invoiceId: string | null, at: number): void =>
  void file.orm.insert(t.credit).values({ companyId, amount, why, invoiceId, at }).run();

/** What is to its credit now. */
export const creditOf = (file: PortalFile, company: string): number =>
  Number(rowOf(file, "SELECT sum(amount) FROM sys_credit WHERE company_id = ?", company)?.[0] ?? 0);
