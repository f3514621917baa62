/** A subscription's steps, stored: what it became, the day on which something happens next, what it is worth, and the event with its reason. */
import { eq } from "drizzle-orm";
import { nextTry } from "@/core/billing/dunning";
import { type Happening, isOpen, type Rules, type Step, type Subscription, step } from "@/core/billing/subscription";
import { monthly } from "@/core/billing/worth";
import type { Event } from "@/core/events/event";
import { plusDays } from "@/core/prices/periods";
import { record } from "../events/record";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { runOf } from "../file/text";
import { transact } from "../file/transact";
import { noteWorth, type Stored, subscriptionOf } from "./standing";

export type By = Pick<Event, "actor" | "via" | "at">;

export interface Life {
  readonly company: string;
  readonly day: string;
  readonly timeZone: string;
  readonly collect: Stored["collect"];
  readonly by: By;
  /** Why, in words of whoever did it. */
  readonly reason?: string;
  /** What those who pay are told of the step, by letter; they are told nothing without it. */
  readonly note?: (done: Step) => string;
}

/** Null for what cannot happen to it. In the transaction of whatever led to it. */
export function take(file: PortalFile, of: Life, happening: Happening, rules: Rules): Step | null {
  return transact(file, () => {
    const was = subscriptionOf(file, of.company);
    const done = step(was?.life ?? null, happening, of.day, rules);
    if (!done) return null;
    store(file, of, done.now);
    record(file, {
      ...of.by,
      kind: "subscription-changed",
      company: of.company,
      detail: of.reason ? `${done.why} (${of.reason})` : done.why,
      ...(of.note ? { told: { note: of.note(done) } } : {}),
    });
    return done;
  });
}

/** Its standing as pages ask for it, beside the life itself. */
export function store(file: PortalFile, of: Life, life: Subscription): void {
  runOf(
    file,
    STORE,
    of.company,
    life.terms.plan,
    life.state,
    life.state === "grace" ? lastBefore(life.graceUntil) : lastBefore(life.paidUntil),
    of.timeZone,
    JSON.stringify(life),
    of.collect,
    nextDay(life, of.day),
  );
  const pays = isOpen(life) && life.state !== "trial";
  noteWorth(file, of.company, life.terms.plan, pays ? monthly(life.terms) : 0, of.by.at);
}

const STORE = `INSERT INTO sys_subscriptions (company_id, plan, state, until, time_zone, body, collect, next_day) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
  ON CONFLICT (company_id) DO UPDATE SET plan = excluded.plan, state = excluded.state, until = excluded.until, time_zone = excluded.time_zone,
    body = excluded.body, collect = excluded.collect, next_day = excluded.next_day`;
const TOLD_BEFORE = 3;
const lastBefore = (day: string | null): string | null => day && plusDays(day, -1);

function nextDay(life: Subscription, day: string): string | null {
  if (life.state === "lapsed" || life.state === "paused") return null;
  // Whoever is on trial is told three days before it is over.
  if (life.state === "trial") return plusDays(life.paidUntil, -TOLD_BEFORE) > day ? plusDays(life.paidUntil, -TOLD_BEFORE) : life.paidUntil;
  if (life.state !== "grace" || life.graceUntil === null) return life.paidUntil;
  return nextTry(life.paidUntil, life.graceUntil, day) ?? life.graceUntil;
}

/** Nothing more is to be done before that day. */
export const noteNext = (file: PortalFile, companyId: string, day: string): void =>
  void file.orm.update(t.subscriptions).set({ nextDay: day }).where(eq(t.subscriptions.companyId, companyId)).run();

/** The next day on which something is to happen to anybody, from tomorrow on. */
export const nextDue = (file: PortalFile, today: string): string | null =>
  file.db.prepare("SELECT min(next_day) FROM sys_subscriptions WHERE next_day > ?").pluck().get(today) as string | null;

/** Companies to which something is to happen on a day at the latest, the longest due first. Each zone's own day is looked at by whoever does it. */
export const dueBy = (file: PortalFile, day: string, most: number): string[] =>
  file.db
    .prepare("SELECT company_id FROM sys_subscriptions WHERE next_day <= ? ORDER BY next_day, company_id LIMIT ?")
    .pluck()
    .all(day, most) as string[];
