/** What a company has paid for: its plan, the state of its subscription, and the features and allowances that follow. */

import { eq, sql } from "drizzle-orm";
import type { Definition, Plan } from "@/core/definition/definition";
import type { Event } from "@/core/events/event";
import { record } from "../events/record";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { transact } from "../file/transact";

export type SubscriptionState = "trial" | "active" | "grace" | "lapsed" | "none";

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

/** A subscription as it is stored. */
export interface PaidRow {
  readonly plan: string;
  readonly state: string;
  readonly until: string | null;
  readonly timeZone: string;
}

export function standingFrom(definition: Definition, row: PaidRow | undefined, today: string): Standing {
  const plan = definition.plans.find((p) => p.id === row?.plan) ?? null;
  if (!row || !plan) return { plan: null, state: "none", until: null, features: new Set() };
  const over = row.until !== null && row.until < today;
  const state: SubscriptionState = over && (row.state === "trial" || row.state === "grace") ? "lapsed" : (row.state as SubscriptionState);
  return { plan, state, until: row.until, features: new Set(state === "lapsed" ? [] : plan.features) };
}

export interface Subscription {
  readonly plan: string;
  readonly state: SubscriptionState;
  /** The last day of that state. */
  readonly until: string | null;
  /** IANA zone in which its days are counted: fixed when it begins, whatever becomes of the portal's. */
  readonly timeZone: string;
}

/** What a company has paid for, as of now. It is an event like any other: what was counted under the old one is counted anew. */
export function setSubscription(
  file: PortalFile,
  companyId: string,
  s: Subscription,
  by: Pick<Event, "actor" | "via" | "at">,
  reason = "",
): void {
  transact(file, () => {
    const row = { companyId, ...s };
    file.orm.insert(t.subscriptions).values(row).onConflictDoUpdate({ target: t.subscriptions.companyId, set: row }).run();
    record(file, {
      ...by,
      act: "subscription changed",
      company: companyId,
      detail: [s.plan, s.state, ...(s.until ? [`until ${s.until}`] : []), ...(reason ? [`(${reason})`] : [])].join(" "),
    });
  });
}

/** Without any plan, as though it had never chosen one. */
export function endSubscription(file: PortalFile, companyId: string, by: Pick<Event, "actor" | "via" | "at">, reason: string): void {
  transact(file, () => {
    file.orm.delete(t.subscriptions).where(eq(t.subscriptions.companyId, companyId)).run();
    record(file, { ...by, act: "subscription changed", company: companyId, detail: `no plan (${reason})` });
  });
}

export const countOf = (file: PortalFile, table: string): number =>
  file.orm.get<{ n: number }>(sql`SELECT count(*) AS n FROM ${sql.identifier(table)}`).n;
