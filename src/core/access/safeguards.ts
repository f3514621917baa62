/** Sentences about access that must hold: what each asks of one viewer, from counts that somebody else takes. Pure. */

import { z } from "zod";
import { Memo } from "../memo";
import { waysToCompanies } from "../schema/ways";
import { type CountPlan, countPlan, hiddenFields } from "./counting";
import type { Policy } from "./policy";
import { all, type Predicate } from "./predicate";
import { ACTIONS, type Action } from "./rules";
import { activeRoles, fieldWhere, ownedElsewhere, type Scope, scope } from "./scope";
import { sideOf, type Viewer } from "./who/viewer";

const id = z.string().min(1).max(64);
const SIDES = ["client", "agency", "visitor"] as const;
export const BOUNDS = ["exactly", "at most", "at least"] as const;
export const MOST_SAFEGUARDS = 100;

/** Whom a safeguard speaks of. A person may be meant in one of their companies alone. */
const subjectSchema = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("side"), side: z.enum(SIDES) }),
  z.strictObject({ kind: z.literal("role"), role: id }),
  z.strictObject({ kind: z.literal("company"), company: id }),
  z.strictObject({ kind: z.literal("person"), person: id, company: id.nullable() }),
]);
export type Subject = z.infer<typeof subjectSchema>;

const claimSchema = z.discriminatedUnion("kind", [
  /** Does this with no record of the table. */
  z.strictObject({ kind: z.literal("nothing"), action: z.enum(ACTIONS) }),
  /** Does this with no record that leads to another company by `way`. The path is kept here, so the claim outlives a change of the wall. */
  z.strictObject({ kind: z.literal("others"), action: z.enum(["see", "change", "remove", "export"]), way: z.array(id).max(4) }),
  /** Sees so many records of the table. */
  z.strictObject({ kind: z.literal("count"), bound: z.enum(BOUNDS), n: z.int().min(0).max(1_000_000_000) }),
  /** Reads, or sets, this field on no record. */
  z.strictObject({ kind: z.literal("field"), action: z.enum(["see", "change"]), field: id }),
]);
export type Claim = z.infer<typeof claimSchema>;

export const safeguardSchema = z.strictObject({ id, subject: subjectSchema, table: id, claim: claimSchema });
export type Safeguard = z.infer<typeof safeguardSchema>;

/** Whether the claim forbids something; the others ask for a number. */
export const forbids = (c: Claim): boolean => c.kind !== "count";

export interface Existing {
  person(id: string): boolean;
  company(id: string): boolean;
}

/** Why a safeguard cannot be checked any more, each as a sentence. Until it is withdrawn it counts as broken. */
export function safeguardProblems(s: Safeguard, policy: Policy, is: Existing): string[] {
  const problems: string[] = [];
  const { subject, claim } = s;
  if (subject.kind === "role" && !policy.role(subject.role)) problems.push("It speaks of a role that is gone.");
  if (subject.kind === "company" && !is.company(subject.company)) problems.push("It speaks of a company that is gone.");
  if (subject.kind === "person" && !is.person(subject.person)) problems.push("It speaks of a person who is gone.");
  if (subject.kind === "person" && subject.company && !is.company(subject.company)) problems.push("It speaks of a company that is gone.");
  const table = policy.schema.findTable(s.table);
  if (!table) return [...problems, "It speaks of a table that is gone."];
  if (claim.kind === "field" && policy.schema.findField(claim.field)?.tableId !== table.id)
    problems.push("It speaks of a field that is gone.");
  if (claim.kind === "others") {
    const way = claim.way.join();
    if (!waysToCompanies(policy.schema, table).some((w) => w.join() === way))
      problems.push("The relations that would lead to a company are gone.");
    const side = subject.kind === "side" ? subject.side : subject.kind === "role" ? policy.role(subject.role)?.side : "client";
    if (side === "agency") problems.push("The agency's own people belong to no company, so no record is another company's to them.");
  }
  return problems;
}

/** Whether the safeguard's subject includes this viewer. */
export function speaksOf(policy: Policy, subject: Subject, viewer: Viewer): boolean {
  switch (subject.kind) {
    case "side":
      return sideOf(viewer) === subject.side;
    case "role":
      return activeRoles(policy, viewer).has(subject.role);
    case "company":
      return viewer.company?.id === subject.company;
    case "person":
      return viewer.person?.id === subject.person && (subject.company === null || viewer.company?.id === subject.company);
  }
}

export interface Breach {
  /** Records that break it; of a claim in numbers, the records seen. Null where it was enough to find one. */
  readonly n: number | null;
  readonly where: Predicate;
  /** A grant of adding breaks it, of which there is no record to show. */
  readonly adds: boolean;
}

/** Questions that the caller answers from the records: how many match a predicate, and whether any does. */
export interface BreachCounts {
  plan(table: string, plan: CountPlan): number;
  any(table: string, predicate: Predicate): boolean;
}

/** What of a safeguard does not hold for this viewer; null where all of it holds. */
export function breachOf(policy: Policy, s: Safeguard, viewer: Viewer, counts: BreachCounts): Breach | null {
  const { claim, table } = s;
  switch (claim.kind) {
    case "nothing":
      if (claim.action === "add") return added(scope(policy, viewer, table, "add").grants.length > 0);
      return some(counts.plan(table, countPlan(policy, viewer, table, doing(claim.action))), reach(policy, viewer, table, claim.action));
    case "others": {
      if (namesTheWall(policy, viewer, table, claim.way)) return null;
      const foreign = ownedElsewhere(reach(policy, viewer, table, claim.action), claim.way, viewer.company?.id ?? null);
      return found(counts.any(table, foreign), foreign);
    }
    case "count": {
      const n = counts.plan(table, countPlan(policy, viewer, table, ["see"]));
      const met = claim.bound === "exactly" ? n === claim.n : claim.bound === "at most" ? n <= claim.n : n >= claim.n;
      return met ? null : { n, where: reach(policy, viewer, table, "see"), adds: false };
    }
    case "field":
      return claim.action === "see" ? read(policy, table, claim.field, viewer, counts) : set(policy, table, claim.field, viewer, counts);
  }
}

const some = (n: number, where: Predicate): Breach | null => (n > 0 ? { n, where, adds: false } : null);
const found = (any: boolean, where: Predicate): Breach | null => (any ? { n: null, where, adds: false } : null);
const added = (adds: boolean): Breach | null => (adds ? { n: 0, where: { kind: "never" }, adds } : null);
const doing = (action: Action): Action[] => (action === "see" ? ["see"] : ["see", action]);

/** The wall that names the same way lets no other company's record through, whatever the grants say: nothing to count. */
function namesTheWall(policy: Policy, viewer: Viewer, table: string, way: readonly string[]): boolean {
  const wall = policy.wall(table);
  const walled = sideOf(viewer) === "client" || sideOf(viewer) === "visitor";
  return walled && wall.kind === "owned" && wall.path.join() === way.join() && !policy.brokenWalls.has(table);
}

function reach(policy: Policy, viewer: Viewer, table: string, action: Action): Predicate {
  const seen = scope(policy, viewer, table).predicate;
  return action === "see" ? seen : both(seen, scope(policy, viewer, table, action).predicate);
}

function read(policy: Policy, table: string, field: string, viewer: Viewer, counts: BreachCounts): Breach | null {
  const s = scope(policy, viewer, table);
  const hidden = hiddenFields(policy, viewer, table);
  if (hidden.never.includes(field)) return null;
  if (!hidden.partly.includes(field)) return some(counts.plan(table, countPlan(policy, viewer, table, ["see"])), s.predicate);
  const where = both(s.predicate, listing(s, field, "fields"));
  return found(counts.any(table, where), where);
}

function set(policy: Policy, table: string, field: string, viewer: Viewer, counts: BreachCounts): Breach | null {
  if (scope(policy, viewer, table, "add").grants.some((g) => g.grant.changes.includes(field))) return added(true);
  const s = scope(policy, viewer, table, "change");
  const where = both(reach(policy, viewer, table, "change"), listing(s, field, "changes"));
  return found(counts.any(table, where), where);
}

const listings = new Memo<Scope, string, Predicate>();
const listing = (s: Scope, field: string, to: "fields" | "changes"): Predicate =>
  listings.of(s, `${to} ${field}`, () => fieldWhere(s, field, to));

const joined = new Memo<Predicate, Predicate, Predicate>();
const both = (a: Predicate, b: Predicate): Predicate => joined.of(a, b, () => all([a, b]));
