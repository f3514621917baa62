/** The owner's figures: money a month and what moved it, what is overdue, and who is near their allowance. Charts and tables ask here alike. */

import type { Owner } from "@/core/access/who/viewer";
import { type Moved, moved, type Worth } from "@/core/billing/worth";
import { addMonths } from "@/core/pages/calendar";
import { INVOICES, PAYMENTS } from "@/core/schema/books";
import { sqlName } from "@/core/text/sql-name";
import { startOfDay } from "@/core/time/zoned";
import { published } from "../definition/published";
import type { PortalFile } from "../file/open";
import { hasBooks } from "../tables/books-tables";
import { type Allowance, allowancesOf } from "./ledger";
import { standings } from "./standing";

/** What each company paid a month at a moment. */
export function worthAt(file: PortalFile, _owner: Owner, at: number): Worth[] {
  const rows = file.db
    .prepare(
      `SELECT company_id AS company, plan, monthly FROM (
         SELECT company_id, plan, monthly, row_number() OVER (PARTITION BY company_id ORDER BY at DESC, id DESC) AS n FROM sys_worth WHERE at <= ?
       ) WHERE n = 1 AND monthly > 0`,
    )
    .all(at) as Worth[];
  return rows;
}

export interface MonthOf {
  /** YYYY-MM. */
  readonly month: string;
  readonly moved: Moved;
  /** Payments less what was paid back, in that month. */
  readonly received: number;
}

/** The last months with the present one, the oldest first; months are the portal's. */
export function months(file: PortalFile, owner: Owner, today: string, n: number): MonthOf[] {
  const zone = published(file).definition.portal.timeZone;
  const begin = (month: string): number => Date.parse(startOfDay(`${month}-01`, zone));
  const received = hasBooks(file)
    ? file.db.prepare(
        `SELECT coalesce(sum(f_payment_amount), 0) FROM ${sqlName(PAYMENTS)} WHERE f_payment_state IN ('paid', 'paid-back') AND f_payment_at >= ? AND f_payment_at < ?`,
      )
    : null;
  return Array.from({ length: n }, (_, i) => {
    const month = addMonths(today.slice(0, 7), i - n + 1);
    const [from, until] = [begin(month), begin(addMonths(month, 1))];
    const sum = received?.pluck().get(new Date(from).toISOString(), new Date(until).toISOString()) as number | undefined;
    return { month, moved: moved(worthAt(file, owner, from - 1), worthAt(file, owner, until - 1)), received: sum ?? 0 };
  });
}

export interface Overdue {
  readonly id: string;
  readonly number: string;
  readonly company: string | null;
  readonly due: string;
  readonly toPay: number;
}

/** Invoices that are open, the longest due first. */
export const openOnes = (file: PortalFile, _owner: Owner): Overdue[] =>
  hasBooks(file)
    ? (file.db
        .prepare(
          `SELECT id, f_invoice_number AS number, f_invoice_company AS company, f_invoice_due AS due, f_invoice_to_pay AS toPay FROM ${sqlName(INVOICES)}
           WHERE f_invoice_state = 'open' ORDER BY f_invoice_due, id`,
        )
        .all() as Overdue[])
    : [];

export interface Near extends Allowance {
  readonly company: string;
  readonly plan: string;
}

/** Companies that have used four fifths of an allowance, or have one left of it. */
export function nearAllowance(file: PortalFile, _owner: Owner, today: string): Near[] {
  const { definition } = published(file);
  if (definition.plans.every((p) => p.allowances.length === 0)) return [];
  const all = standings(file, definition, today);
  return all.companies.flatMap((company) => {
    const { plan } = all.of(company);
    return allowancesOf(file, { plan }, company, today)
      .filter((a) => a.used > 0 && (a.used * 5 >= a.limit * 4 || a.limit - a.used <= 1))
      .map((a) => ({ ...a, company, plan: plan?.name ?? "" }));
  });
}
