/** The parts that an owner writes: roles, walls, grants, as plain data. */

import type { Condition } from "../schema/condition";
import type { Act } from "./act";

export const ACTIONS = ["see", "add", "change", "remove", "export"] as const;
export type Action = (typeof ACTIONS)[number];

/** One of the five actions, or an act of the portal's own by its id. All that may be done is decided alike. */
export type Doing = Action | `act:${string}`;

/** The name under which an act is granted and asked for, beside seeing, adding and the rest. */
export const doingOf = (act: { readonly id: string }): Doing => `act:${act.id}`;
export const actIdOf = (d: Doing): string | null => (d.startsWith("act:") ? d.slice(4) : null);
export function opens(g: Grant, d: Doing): boolean {
  const act = actIdOf(d);
  return act === null ? g.actions.includes(d as Action) : (g.acts?.includes(act) ?? false);
}

export interface Role {
  id: string;
  name: string;
  side: "agency" | "client" | "visitor";
  /** Roles whose grants this one has too (ANSI INCITS 359, hierarchical RBAC). */
  includes: readonly string[];
  /** Set for a company's own role: it counts in that company only. */
  companyId?: string | null;
  about?: string;
}

export type Wall =
  | { kind: "owned" /** Relation fields from the table to a company; [] for the companies table itself. */; path: readonly string[] }
  | { kind: "shared" }
  | { kind: "agency-only" };

export interface Grant {
  id: string;
  roles: readonly string[];
  table: string;
  actions: readonly Action[];
  /** Ids of acts that it opens: see `act.ts`. */
  acts?: readonly string[];
  filter: Condition | null;
  /** Field ids that may be seen, and that may be changed or given on adding. */
  fields: readonly string[];
  changes: readonly string[];
  /** Fields of files among `fields` of which only the names are given. */
  namesOnly?: readonly string[];
  feature?: string | null;
  /** ISO dates in the portal's time zone, both inclusive. */
  validFrom?: string | null;
  validUntil?: string | null;
}

/**
 * Everyone in a company has this role, whatever others they hold: it includes nothing and is included by every client role, so that
 * "everybody else" can be said. It is given to nobody by hand.
 */
export const EVERYONE = "everyone";
export const everyoneRole: Role = {
  id: EVERYONE,
  name: "Everyone in a company",
  side: "client",
  includes: [],
  about: "What everyone in a company may see and do, whatever else they are.",
};

/** What a plan counts: so many additions to a table in a month. */
export interface Counting {
  readonly id: string;
  readonly name: string;
  readonly allowances: readonly {
    readonly table: string;
    readonly perMonth: number;
    readonly by: "month" | "period";
    readonly filter: Condition | null;
  }[];
}

export interface Rules {
  /** Plans by which additions are counted; none where nothing is. */
  plans?: readonly Counting[];
  /** Roles whose holders may pay for their company. */
  billing?: { readonly payers: readonly string[] };
  /** Named acts that grants may open; none where there are none. */
  acts?: readonly Act[];
  roles: readonly Role[];
  walls: Readonly<Record<string, Wall>>;
  grants: readonly Grant[];
}

/** Role ids that lead back to themselves through `includes`; an editor refuses such a draft. */
export function roleCycles(roles: readonly Role[]): string[] {
  const byId = new Map(roles.map((r) => [r.id, r]));
  const reaches = (from: string, to: string, seen: Set<string>): boolean =>
    (byId.get(from)?.includes ?? []).some((next) => next === to || (!seen.has(next) && reaches(next, to, seen.add(next))));
  return roles.filter((r) => reaches(r.id, r.id, new Set())).map((r) => r.id);
}
