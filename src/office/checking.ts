/** Whether rules keep their safeguards: everybody whom each speaks of is asked, and who breaks it is told with records. */

import { draftPolicy, type Policy } from "@/core/access/policy";
import type { Predicate } from "@/core/access/predicate";
import {
  type Breach,
  type BreachCounts,
  breachOf,
  type Existing,
  forbids,
  type Safeguard,
  safeguardProblems,
  speaksOf,
} from "@/core/access/safeguards";
import { type SafeguardNames, safeguardSentence } from "@/core/access/words/safeguard-words";
import type { Names } from "@/core/access/words/wording";
import type { Definition } from "@/core/definition/definition";
import { Memo } from "@/core/memo";
import type { Schema } from "@/core/schema/types";
import { waysToCompanies } from "@/core/schema/ways";
import { dateIn } from "@/core/time/relative";
import { personFacts } from "@/data/people/people";
import { anyWhere, countWhere, ManyCounter } from "@/data/records/counting/count-many";
import { companyFacts } from "@/data/tables/company-facts";
import { Crowd, type Someone } from "@/identity/viewers/crowd";
import { type Looked, namesOf } from "./names";

/** Rules as they are looked at: a draft's, or the published ones. */
export interface AccessView {
  readonly definition: Definition;
  readonly revision: number;
  readonly policy: Policy;
  readonly schema: Schema;
  readonly names: Names;
  person(id: string): string | undefined;
}

export interface Breaker {
  /** As `as` in addresses has them; null where nobody is it yet. */
  readonly as: string | null;
  readonly name: string;
  readonly company: string | null;
  readonly roles: string;
  readonly n: number;
  readonly adds: boolean;
  /** It is not so yet, but will be when grants that begin later have begun. */
  readonly later: boolean;
  readonly examples: readonly { readonly id: string; readonly label: string }[];
}

export interface Verdict {
  readonly safeguard: Safeguard;
  readonly sentence: string;
  /** Why it cannot be checked any more. */
  readonly problems: readonly string[];
  /** How many people it speaks of, those who would be new aside; null of visitors. */
  readonly asked: number | null;
  readonly broken: number;
  /** The first few of those who break it. */
  readonly breakers: readonly Breaker[];
}

/** Whether a safeguard can be checked and nobody breaks it. */
export const holds = (v: Verdict): boolean => v.problems.length === 0 && v.broken === 0;

/** As it is published, whatever is drafted. */
export const liveView = (p: Looked): AccessView => ({
  definition: p.live.definition,
  revision: 0,
  policy: p.live.policy,
  schema: p.live.policy.schema,
  names: namesOf(p),
  person: (id) => personFacts(p.file, id)?.name,
});

/** What the words of safeguards name, as it is called under a view; undefined for what is gone. */
export const safeguardNames = (v: AccessView): SafeguardNames => ({
  role: (id) => v.definition.roles.find((r) => r.id === id)?.name,
  company: v.names.company,
  person: v.person,
  table: (id) => v.schema.findTable(id)?.name,
  field: (id) => v.schema.findField(id)?.name,
  ways: (id) => {
    const table = v.schema.findTable(id);
    return table ? waysToCompanies(v.schema, table).length : 0;
  },
});

const MOST_NAMED = 5;
const EXAMPLES = 3;

/** Whether the people and companies that safeguards name are there. */
export const whoIs = (p: Looked): Existing => ({
  person: (id) => !!personFacts(p.file, id),
  company: (id) => !!companyFacts(p.file, id),
});

/** Accounts under one policy. What is forbidden is asked of those who are not active yet, and of those who would be new, too. */
interface Asking {
  readonly policy: Policy;
  readonly later: boolean;
  real(): readonly Someone[];
  readonly possible: readonly Someone[];
  readonly counts: BreachCounts;
}

/** Where the work may rest: how far it is, of how much. */
export type Step = readonly [done: number, of: number];

/** Checks every safeguard of a view piece by piece: says how far it is, and at the end answers a verdict for each. */
export function* checking(p: Looked, v: AccessView): Generator<Step, Verdict[]> {
  const { safeguards } = v.definition;
  if (safeguards.length === 0) return [];
  const names = safeguardNames(v);
  const is = whoIs(p);
  const now = p.now;
  const crowd = new Crowd(p.file, v.definition, p.owner, now);
  yield [0, safeguards.length];
  const asking = [askingUnder(p, v, v.policy, crowd, false)];
  const begun = allBegun(p, v, now);
  if (begun) {
    yield [0, safeguards.length];
    asking.push(askingUnder(p, v, begun, crowd, true));
  }
  const verdicts: Verdict[] = [];
  for (const [i, s] of safeguards.entries()) {
    const sentence = safeguardSentence(s, names, v.definition.portal.locale);
    const problems = safeguardProblems(s, v.policy, is);
    if (problems.length > 0) verdicts.push({ safeguard: s, sentence, problems, asked: 0, broken: 0, breakers: [] });
    else verdicts.push({ safeguard: s, sentence, problems, ...(yield* ask(p, v, s, asking, [i, safeguards.length])) });
  }
  // What waits for somebody comes first; the rest stands as it was written.
  return verdicts.sort((a, b) => Number(holds(a)) - Number(holds(b)));
}

/**
 * The draft as though every grant that begins later had begun, or null where none does. Grants only add up: what is forbidden
 * and does not happen with all of them happens on no day with some.
 */
function allBegun(p: Looked, v: AccessView, now: number): Policy | null {
  const today = dateIn(now, v.definition.portal.timeZone);
  const waits = (g: Definition["grants"][number]): boolean => !!g.validFrom && g.validFrom > today;
  if (!v.definition.grants.some(waits)) return null;
  const grants = v.definition.grants.map((g) => (waits(g) ? { ...g, validFrom: null } : g));
  return draftPolicy(p.live.policy, { ...v.definition, grants });
}

function askingUnder(p: Looked, v: AccessView, policy: Policy, crowd: Crowd, later: boolean): Asking {
  const possible = crowd.everyone({ asActive: true });
  const held = new Set(possible.flatMap((s) => s.roles.map((r) => `${r} ${s.companyId}`)));
  const counter = new ManyCounter(p.file, v.schema, p.owner);
  const alone = new Memo<Predicate, string, boolean>();
  let real: Someone[] | undefined;
  return {
    policy,
    later,
    real: () => (real ??= crowd.everyone()),
    possible: [...possible, ...crowd.newcomers((role, company) => held.has(`${role} ${company}`))],
    counts: {
      plan: (t, plan) => counter.count(t, plan),
      any: (t, where) => alone.of(where, t, () => anyWhere(p.file, v.schema, t, where)),
    },
  };
}

function* ask(
  p: Looked,
  v: AccessView,
  s: Safeguard,
  asking: readonly Asking[],
  [i, of]: Step,
): Generator<Step, Pick<Verdict, "asked" | "broken" | "breakers">> {
  // Numbers are about now; what is forbidden must hold when later grants have begun, too.
  const asked = forbids(s.claim) ? asking : asking.slice(0, 1);
  const breaking = new Set<string>();
  const breakers: Breaker[] = [];
  const people = new Set<string | null>();
  for (const [d, under] of asked.entries()) {
    const all = forbids(s.claim) ? under.possible : under.real();
    for (const [n, someone] of all.entries()) {
      yield [(i + (d + n / all.length) / asked.length) * 1000, of * 1000];
      if (!speaksOf(under.policy, s.subject, someone.viewer)) continue;
      if (d === 0 && someone.status !== "nobody yet") people.add(someone.personId);
      const breach = breachOf(under.policy, s, someone.viewer, under.counts);
      const key = `${someone.personId} ${someone.membershipId} ${someone.companyId} ${someone.roles}`;
      if (!breach || breaking.has(key)) continue;
      breaking.add(key);
      if (breakers.length < MOST_NAMED) breakers.push(named(p, v, s, someone, breach, under.later));
    }
  }
  return { asked: people.has(null) ? null : people.size, broken: breaking.size, breakers };
}

function named(p: Looked, v: AccessView, s: Safeguard, who: Someone, b: Breach, later: boolean): Breaker {
  const table = v.schema.table(s.table);
  const only = new Set([table.labelFieldId]);
  const n = b.n ?? countWhere(p.file, v.schema, table.id, b.where);
  const records = n > 0 ? p.desk.list(table, { within: b.where, limit: EXAMPLES, only }).records : [];
  return {
    as: who.personId ? [who.personId, who.membershipId ?? ""].join(" ").trim() : who.status === "visitor" ? "visitor" : null,
    name: who.name,
    company: who.company,
    roles: roleNames(v.policy, who.roles),
    n,
    adds: b.adds,
    later,
    examples: records.map((r) => ({ id: r.id, label: p.desk.label(table, r) })),
  };
}

const roleNames = (policy: Policy, roles: readonly string[]): string => roles.map((r) => policy.role(r)?.name ?? r).join(", ");

/** At once and without rest, for who holds a transaction: what is live, not the draft. Those that do not hold. */
export function brokenNow(p: Looked): Verdict[] {
  const work = checking(p, liveView(p));
  for (let step = work.next(); ; step = work.next()) if (step.done) return step.value.filter((v) => !holds(v));
}
