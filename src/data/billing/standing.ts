/** What a company has paid for: its plan, the state of its subscription, and the features and allowances that follow. */
import { eq, sql } from "drizzle-orm";
import type { Definition, Plan } from "@/core/definition";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";

export type SubscriptionState = "trial" | "active" | "grace" | "lapsed" | "none";

export interface Allowance {
  readonly table: string;
  readonly limit: number;
  readonly used: number;
}

export interface Standing {
  readonly plan: Plan | null;
  readonly state: SubscriptionState;
  /** The day on which the state ends, in the portal's time zone. */
  readonly until: string | null;
  readonly features: ReadonlySet<string>;
}

/** `today` decides whether a trial or a grace period is over; nothing has to run at midnight for a door to close. */
export function standingOf(file: PortalFile, definition: Definition, companyId: string, today: string): Standing {
  return standingFrom(definition, file.orm.select().from(t.subscriptions).where(eq(t.subscriptions.companyId, companyId)).get(), today);
}

/** The same of every company at once; of those that are not in it, nothing is paid for. */
export function standings(file: PortalFile, definition: Definition, today: string): Map<string, Standing> {
  const rows = file.orm.select().from(t.subscriptions).all();
  return new Map(rows.map((row) => [row.companyId, standingFrom(definition, row, today)]));
}

function standingFrom(definition: Definition, row: typeof t.subscriptions.$inferSelect | undefined, today: string): Standing {
  const plan = definition.plans.find((p) => p.id === row?.plan) ?? null;
  if (!row || !plan) return { plan: null, state: "none", until: null, features: new Set() };
  const over = row.until !== null && row.until < today;
  const state: SubscriptionState = over && (row.state === "trial" || row.state === "grace") ? "lapsed" : (row.state as SubscriptionState);
  return { plan, state, until: row.until, features: new Set(state === "lapsed" ? [] : plan.features) };
}

/** Counted in calendar months (UTC); each allowance names the table whose new records use it up. */
export function allowancesOf(file: PortalFile, standing: Standing, companyId: string, monthStart: string): Allowance[] {
  return (standing.plan?.allowances ?? []).map((a) => {
    const used = file.db
      .prepare(`SELECT count(*) FROM "${a.table}" WHERE company_id = ? AND created_at >= ?`)
      .pluck()
      .get(companyId, monthStart);
    return { table: a.table, limit: a.perMonth, used: used as number };
  });
}

export function setSubscription(file: PortalFile, companyId: string, plan: string, state: SubscriptionState, until: string | null): void {
  const row = { companyId, plan, state, until };
  file.orm.insert(t.subscriptions).values(row).onConflictDoUpdate({ target: t.subscriptions.companyId, set: row }).run();
}

export const countOf = (file: PortalFile, table: string): number =>
  file.orm.get<{ n: number }>(sql`SELECT count(*) AS n FROM ${sql.identifier(table)}`).n;
