/**
 * The ledger of allowances: each addition by a company's people is a line, kept in the transaction of the addition itself, so that two at
 * once cannot both take the last. What the agency adds, imports or restores is no line; removing a record takes none away. When the plan's
 * own are used, those bought beside it are, of which what ends first goes first.
 */
import { sql } from "drizzle-orm";
import { match } from "@/core/access/match";
import { resolve } from "@/core/access/resolve";
import type { Row } from "@/core/access/row";
import type { Counting } from "@/core/access/rules";
import { sideOf } from "@/core/access/who/viewer";
import { type Counted, countedIn, leftOf, takeOne } from "@/core/billing/allowance";
import type { Subscription } from "@/core/billing/subscription";
import type { Plan } from "@/core/definition/definition";
import { dateIn } from "@/core/time/relative";
import type { Access } from "../access";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { worldOf } from "../tables/rows";

export interface Allowance {
  readonly table: string;
  readonly limit: number;
  readonly used: number;
  /** Bought beside the plan, and still there. */
  readonly beside: number;
  /** ISO date of the day on which the count begins anew. */
  readonly again: string;
}

export interface UsedUp {
  readonly plan: string;
  readonly table: string;
  readonly limit: number;
  /** ISO date of the day on which the count begins anew, in the portal's zone. */
  readonly again: string;
}

const askUsed = () => {
  const { companyId, tableId, month, n } = t.allowanceCounts;
  return sql`SELECT ${n} FROM ${t.allowanceCounts} WHERE ${companyId} = ${sql.placeholder("p0")} AND ${tableId} = ${sql.placeholder("p1")} AND ${month} = ${sql.placeholder("p2")}`;
};

/** `key` is a calendar month of the portal's zone (YYYY-MM), or the day on which a period began. */
export const usedIn = (file: PortalFile, company: string, table: string, key: string): number =>
  Number(file.statements.row("allowance used", askUsed, [company, table, key])?.[0] ?? 0);

const askTopUps = () =>
  sql`SELECT id, n - used, until FROM sys_top_ups WHERE company_id = ${sql.placeholder("p0")} AND table_id = ${sql.placeholder("p1")} AND used < n`;

const topUpsOf = (file: PortalFile, company: string, table: string) =>
  file.statements
    .rows("top-ups of a company", askTopUps, [company, table])
    .map(([id, left, until]) => ({ id: id as string, left: left as number, until: until as string | null }));

/** What a company's plan limits in the month of `today`, with what is used of it. */
export function allowancesOf(file: PortalFile, { plan }: { readonly plan: Plan | null }, company: string, today: string): Allowance[] {
  return (plan?.allowances ?? []).map((a) => {
    const { key, again } = countedFor(file, company, a.by, today);
    const beside = leftOf(0, 0, topUpsOf(file, company, a.table), today);
    return { table: a.table, limit: a.perMonth, used: usedIn(file, company, a.table, key), beside, again };
  });
}

/** Whether tables count at all, by any plan: of others no line is kept. */
const counted = (plans: readonly Counting[], table: string): boolean => plans.some((p) => p.allowances.some((a) => a.table === table));

const askPlan = () => {
  const { plan, companyId } = t.subscriptions;
  return sql`SELECT ${plan} FROM ${t.subscriptions} WHERE ${companyId} = ${sql.placeholder("p0")}`;
};
const planOf = (file: PortalFile, company: string): string | null =>
  (file.statements.row("plan of a company", askPlan, [company])?.[0] as string | undefined) ?? null;

function countedFor(file: PortalFile, company: string, by: "month" | "period", today: string): Counted {
  if (by === "month") return countedIn(by, today, null);
  const body = file.db.prepare("SELECT body FROM sys_subscriptions WHERE company_id = ?").pluck().get(company) as string | null | undefined;
  const life = body ? (JSON.parse(body) as Subscription) : null;
  return countedIn(by, today, life && { anchor: life.anchor, cycle: life.terms.cycle });
}

/** Takes one of what the company's plan allows, for a record that is being added; or says that none is left. Within its transaction. */
export function spend({ file, policy, viewer }: Access, row: Row): UsedUp | null {
  const { company } = viewer;
  const { table } = row;
  if (sideOf(viewer) !== "client" || !company) return null;
  const plans = policy.rules.plans ?? [];
  if (!counted(plans, table)) return null;
  const today = dateIn(viewer.now, viewer.timeZone);
  const chosen = planOf(file, company.id);
  const plan = plans.find((x) => x.id === chosen);
  const allowance = plan?.allowances.find((a) => a.table === table);
  if (allowance?.filter && !match(resolve(allowance.filter, viewer), row, worldOf(file, policy.schema), policy.schema)) return null;
  const { key, again } = countedFor(file, company.id, allowance?.by ?? "month", today);
  let month = key;
  if (plan && allowance) {
    const used = usedIn(file, company.id, table, key);
    // Asked only where the plan's own are used: as long as they last, a line costs one question.
    const taken = used < allowance.perMonth ? { from: "plan" as const } : takeOne(0, 0, topUpsOf(file, company.id, table), today);
    if (taken === null) return { plan: plan.name, table, limit: allowance.perMonth, again };
    if (taken.from === "top-up") {
      file.db.prepare("UPDATE sys_top_ups SET used = used + 1 WHERE id = ?").run(taken.id);
      month = `beside ${taken.id}`;
    }
  }
  file.statements.run("allowance spent", insertUse, [company.id, table, row.id, month, viewer.now]);
  return null;
}
const insertUse = () =>
  sql`INSERT INTO ${t.allowanceUses} (company_id, table_id, record_id, month, at) VALUES (${sql.join(
    [0, 1, 2, 3, 4].map((i) => sql`${sql.placeholder(`p${i}`)}`),
    sql`, `,
  )})`;
