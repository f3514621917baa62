/** What a company has paid for: its plan, the state of its subscription, and the features, records and allowances that follow. */

import { eq } from "drizzle-orm";
import { type Open, openTo, stateOn } from "@/core/billing/entitlement";
import type { Subscription } from "@/core/billing/subscription";
import type { Definition, Plan } from "@/core/definition/definition";
import type { Event } from "@/core/events/event";
import { record } from "../events/record";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { rowOf, runOf } from "../file/text";
import { transact } from "../file/transact";

export type SubscriptionState = "trial" | "active" | "ending" | "grace" | "lapsed" | "paused" | "none";

export interface Standing {
  readonly plan: Plan | null;
  readonly state: SubscriptionState;
  /** The day on which the state ends, in the portal's time zone. */
  readonly until: string | null;
  readonly features: ReadonlySet<string>;
  /** Records bought one by one, by the company or by the person who looks. */
  readonly bought: readonly string[];
  /** What opens each feature. */
  readonly why: readonly Open[];
}

/** A subscription as it is stored. */
export interface PaidRow {
  readonly plan: string;
  readonly state: string;
  readonly until: string | null;
  readonly timeZone: string;
  readonly collect: string;
}
/** Kind, id, last day, person and reason of what was opened beside the plan: as `sys_opened` has them. */
export type OpenedRow = readonly [kind: string, ref: string, until: string | null, person: string | null, why: string];

/** All that a company's standing follows from. */
export interface Paid {
  readonly row: PaidRow | undefined;
  readonly opened: readonly OpenedRow[];
}

/** `today` decides whether a trial or a grace period is over; nothing has to run at midnight for a door to close. */
export function standingOf(
  file: PortalFile,
  definition: Definition,
  companyId: string,
  today: string,
  person: string | null = null,
): Standing {
  const row = file.orm.select().from(t.subscriptions).where(eq(t.subscriptions.companyId, companyId)).get();
  const opened = file.orm.select().from(t.opened).where(eq(t.opened.companyId, companyId)).all().map(openedRow);
  return standingFrom(definition, { row, opened }, today, person);
}

const openedRow = (o: typeof t.opened.$inferSelect): OpenedRow => [o.kind, o.ref, o.until, o.personId, o.why];

/** The same of every company at once, of nobody in particular; of those that are not in it, nothing is paid for. */
export function standings(
  file: PortalFile,
  definition: Definition,
  today: string,
): { of: (company: string, person?: string | null) => Standing; companies: readonly string[] } {
  const rows = new Map<string, Paid>();
  const raw = file.db
    .prepare(
      `SELECT c.id, s.plan, s.state, s.until, s.time_zone, s.collect, o.list FROM
         (SELECT company_id AS id FROM sys_subscriptions UNION SELECT company_id FROM sys_opened) c
         LEFT JOIN sys_subscriptions s ON s.company_id = c.id
         LEFT JOIN (SELECT company_id, json_group_array(json_array(kind, ref, until, person_id, why)) AS list FROM sys_opened GROUP BY company_id) o
           ON o.company_id = c.id`,
    )
    .raw()
    .all() as (string | null)[][];
  for (const [id, plan, state, until, timeZone, collect, list] of raw)
    rows.set(id!, {
      row: plan === null ? undefined : { plan: plan!, state: state!, until: until ?? null, timeZone: timeZone!, collect: collect! },
      opened: list ? (JSON.parse(list) as OpenedRow[]) : NOTHING.opened,
    });
  // Companies that pay alike stand alike.
  const alike = new Map<string, Standing>();
  const of = (company: string, person: string | null = null): Standing => {
    const paid = rows.get(company) ?? NOTHING;
    if (paid.opened.length > 0) return standingFrom(definition, paid, today, person);
    const key = paid.row ? `${paid.row.plan} ${paid.row.state} ${paid.row.until} ${paid.row.collect}` : "";
    let known = alike.get(key);
    if (!known) alike.set(key, (known = standingFrom(definition, paid, today, null)));
    return known;
  };
  return { of, companies: [...rows.keys()] };
}
const NOTHING: Paid = { row: undefined, opened: [] };

/** What a company has paid for on a day (YYYY-MM-DD): its plan with its state, and what is open beside it. */
export function standingFrom(definition: Definition, { row, opened }: Paid, today: string, person: string | null): Standing {
  const plan = definition.plans.find((p) => p.id === row?.plan) ?? null;
  const stored = row && plan ? (row.state as SubscriptionState) : "none";
  // What the provider charges by itself stays open until it is known whether it could.
  const ends = stored === "trial" && row?.collect === "card" ? null : (row?.until ?? null);
  const state = stateOn({ state: stored, until: ends }, today);
  const until = plan ? (row?.until ?? null) : null;
  const mine = opened.filter(([, , last, whose]) => (last === null || today <= last) && (whose === null || whose === person));
  const beside = mine.flatMap(([kind, feature, last, , why]) => (kind === "feature" ? [{ feature, until: last, why }] : []));
  const why = openTo(plan, { state, until }, beside, today);
  const bought = mine.flatMap(([kind, ref]) => (kind === "record" ? [ref] : []));
  return { plan, state, until, features: new Set(why.map((o) => o.feature)), bought: [...new Set(bought)], why };
}

export interface ByHand {
  readonly plan: string;
  readonly state: SubscriptionState;
  /** The last day of that state. */
  readonly until: string | null;
  /** IANA zone in which its days are counted: fixed when it begins, whatever becomes of the portal's. */
  readonly timeZone: string;
}

type By = Pick<Event, "actor" | "via" | "at">;

/** What a company has paid for, set by hand and as of now: nothing renews by itself. What was counted under the old one is counted anew. */
export function setSubscription(file: PortalFile, companyId: string, s: ByHand, by: By, reason = ""): void {
  transact(file, () => {
    const row = { companyId, ...s, body: null, collect: "none", nextDay: null };
    file.orm.insert(t.subscriptions).values(row).onConflictDoUpdate({ target: t.subscriptions.companyId, set: row }).run();
    noteWorth(file, companyId, s.plan, 0, by.at);
    record(file, {
      ...by,
      kind: "subscription-changed",
      company: companyId,
      detail: [s.plan, s.state, ...(s.until ? [`until ${s.until}`] : []), ...(reason ? [`(${reason})`] : [])].join(" "),
    });
  });
}

/** Without any plan, as though it had never chosen one. */
export function endSubscription(file: PortalFile, companyId: string, by: By, reason: string): void {
  transact(file, () => {
    file.orm.delete(t.subscriptions).where(eq(t.subscriptions.companyId, companyId)).run();
    noteWorth(file, companyId, "", 0, by.at);
    record(file, { ...by, kind: "subscription-changed", company: companyId, detail: `no plan (${reason})` });
  });
}

/** What it pays a month from now on; written down where that is something else than before. */
export function noteWorth(file: PortalFile, companyId: string, plan: string, monthly: number, at: number): void {
  const last = rowOf(file, "SELECT plan, monthly FROM sys_worth WHERE company_id = ? ORDER BY at DESC, id DESC LIMIT 1", companyId);
  const [lastPlan, lastMonthly] = (last ?? ["", 0]) as [string, number];
  if (lastMonthly === monthly && (monthly === 0 || lastPlan === plan)) return;
  runOf(file, "INSERT INTO sys_worth (at, company_id, plan, monthly) VALUES (?, ?, ?, ?)", at, companyId, plan, monthly);
}

/** A subscription as it is stored: what has happened to it, how it is paid, and the day on which something falls due next. */
export interface Stored {
  readonly life: Subscription;
  readonly collect: "card" | "outside" | "none";
  readonly timeZone: string;
  readonly nextDay: string | null;
}

/** A company's subscription with its whole life; null where it has none. */
export function subscriptionOf(file: PortalFile, companyId: string): Stored | null {
  const row = rowOf(file, "SELECT body, collect, time_zone, next_day FROM sys_subscriptions WHERE company_id = ?", companyId);
  if (!row?.[0]) return null;
  const [body, collect, timeZone, nextDay] = row as [string, Stored["collect"], string, string | null];
  return { life: JSON.parse(body) as Subscription, collect, timeZone, nextDay };
}
