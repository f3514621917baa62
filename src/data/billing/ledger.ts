/**
 * The ledger of allowances: each addition by a company's people is a line, kept in the transaction of the addition itself, so that two at
 * once cannot both take the last. What the agency adds, imports or restores is no line; removing a record takes none away.
 */
import { sql } from "drizzle-orm";
import type { Counting } from "@/core/access/rules";
import { sideOf } from "@/core/access/viewer";
import type { Plan } from "@/core/definition/definition";
import { addMonths } from "@/core/pages/calendar";
import { dateIn } from "@/core/time/relative";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import type { Access } from "../records/access";

export interface Allowance {
  readonly table: string;
  readonly limit: number;
  readonly used: number;
}

export interface UsedUp {
  readonly plan: string;
  readonly table: string;
  readonly limit: number;
  /** ISO date of the day on which the count begins anew, in the portal's zone. */
  readonly again: string;
}

const askUsed = () => {
  const { companyId, tableId, month } = t.allowanceUses;
  return sql`SELECT count(*) FROM ${t.allowanceUses} WHERE ${companyId} = ${sql.placeholder("p0")} AND ${tableId} = ${sql.placeholder("p1")} AND ${month} = ${sql.placeholder("p2")}`;
};

/** `month` is a calendar month of the portal's zone, YYYY-MM. */
export const usedIn = (file: PortalFile, company: string, table: string, month: string): number =>
  Number(file.statements.row("allowance used", askUsed, [company, table, month])?.[0] ?? 0);

export const allowancesOf = (file: PortalFile, { plan }: { readonly plan: Plan | null }, company: string, month: string): Allowance[] =>
  (plan?.allowances ?? []).map((a) => ({ table: a.table, limit: a.perMonth, used: usedIn(file, company, a.table, month) }));

/** Whether tables count at all, by any plan: of others no line is kept. */
const counted = (plans: readonly Counting[], table: string): boolean => plans.some((p) => p.allowances.some((a) => a.table === table));

const askPlan = () => {
  const { plan, companyId } = t.subscriptions;
  return sql`SELECT ${plan} FROM ${t.subscriptions} WHERE ${companyId} = ${sql.placeholder("p0")}`;
};
const planOf = (file: PortalFile, company: string): string | null =>
  (file.statements.row("plan of a company", askPlan, [company])?.[0] as string | undefined) ?? null;

/** Takes one of what the company's plan allows, for a record that is being added; or says that none is left. Within its transaction. */
export function spend({ file, policy, viewer }: Access, table: string, record: string): UsedUp | null {
  const { company } = viewer;
  if (viewer.kind !== "person" || sideOf(viewer) !== "client" || !company) return null;
  const plans = policy.rules.plans ?? [];
  if (!counted(plans, table)) return null;
  const today = dateIn(viewer.now, viewer.timeZone);
  const month = today.slice(0, 7);
  const plan = plans.find((x) => x.id === planOf(file, company.id));
  const allowance = plan?.allowances.find((a) => a.table === table);
  if (plan && allowance && usedIn(file, company.id, table, month) >= allowance.perMonth)
    return { plan: plan.name, table, limit: allowance.perMonth, again: `${addMonths(month, 1)}-01` };
  file.orm.insert(t.allowanceUses).values({ companyId: company.id, tableId: table, recordId: record, month, at: viewer.now }).run();
  return null;
}
