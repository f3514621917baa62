/** Roles, walls and grants: the published (or draft) rules of one portal, indexed for use. */

import type { Schema } from "../schema/types";
import type { Act } from "./act";
import { bookWall, PAYER, withBooks } from "./book-grants";
import { EVERYONE, type Grant, type Role, type Rules, type Wall } from "./rules";
import { grantBreaks, wallProblems } from "./sound";

/** Of more companies than this, what is remembered is let go and worked out again as they come. */
const MOST_COMPANIES = 5000;

export class Policy {
  readonly #roles: ReadonlyMap<string, Role>;
  readonly #grants = new Map<string, Grant[]>();
  readonly #closures = new Map<string, ReadonlySet<string>>();

  readonly rules: Rules;

  constructor(
    readonly schema: Schema,
    given: Rules,
    /** Tables whose wall differs from the published one: the company stored in their rows is not that wall's, so its path is followed at each question. */
    readonly movedWalls: ReadonlySet<string> = new Set(),
  ) {
    const rules = withBooks(given, schema);
    this.rules = rules;
    this.#roles = new Map(rules.roles.map((r) => [r.id, r]));
    for (const g of rules.grants) {
      const breaks = grantBreaks(g, schema);
      if (breaks.length > 0) this.broken.set(g.id, breaks);
      else this.#grants.set(g.table, [...(this.#grants.get(g.table) ?? []), g]);
    }
    for (const [table, wall] of Object.entries(rules.walls)) {
      const breaks = wallProblems(wall, table, schema);
      if (breaks.length > 0) this.brokenWalls.set(table, breaks);
    }
  }

  /** Grants that cannot be read, with why: they open nothing. */
  readonly broken = new Map<string, readonly string[]>();
  readonly brokenWalls = new Map<string, readonly string[]>();

  act = (id: string | null): Act | undefined => this.rules.acts?.find((a) => a.id === id);
  role = (id: string): Role | undefined => this.#roles.get(id);

  /** Closed by default: a table without a wall, or with one that leads nowhere, is the agency's alone. */
  wall(tableId: string): Wall {
    const book = bookWall(tableId);
    if (book) return book;
    if (this.brokenWalls.has(tableId)) return { kind: "agency-only" };
    const w = this.rules.walls[tableId];
    if (w) return w;
    return this.schema.table(tableId).kind === "companies" ? { kind: "owned", path: [] } : { kind: "agency-only" };
  }

  readonly #memo = new Map<string | null, Map<string, unknown>>();
  /** What follows from the policy, a company (or the lack of one) and roles, worked out once; bounded in companies. */
  memo<T>(company: string | null, roles: string, make: () => T): T {
    let byRoles = this.#memo.get(company) as Map<string, T> | undefined;
    if (!byRoles) {
      if (this.#memo.size >= MOST_COMPANIES) this.#memo.clear();
      this.#memo.set(company, (byRoles = new Map()));
    }
    let v = byRoles.get(roles);
    if (v === undefined) byRoles.set(roles, (v = make()));
    return v;
  }

  grantsOn = (tableId: string): readonly Grant[] => this.#grants.get(tableId) ?? [];

  /** The role and all that it includes, directly or through others. A cycle ends where it began. */
  closure(roleId: string): ReadonlySet<string> {
    const known = this.#closures.get(roleId);
    if (known) return known;
    const found = new Set<string>();
    const waiting = [roleId];
    for (let id = waiting.pop(); id !== undefined; id = waiting.pop()) {
      const role = this.#roles.get(id);
      if (!role || found.has(id)) continue;
      found.add(id);
      waiting.push(
        ...role.includes,
        ...(role.side === "client" && id !== PAYER && this.#roles.has(EVERYONE) ? [EVERYONE] : []),
        ...(this.rules.billing?.payers.includes(id) ? [PAYER] : []),
      );
    }
    this.#closures.set(roleId, found);
    return found;
  }
}

/** A draft's policy beside the published one, whose walls the stored companies follow. */
export function draftPolicy(live: Policy, rules: Rules): Policy {
  const plain = new Policy(live.schema, rules);
  const differing = live.schema.tables.filter((t) => JSON.stringify(live.wall(t.id)) !== JSON.stringify(plain.wall(t.id)));
  return differing.length === 0 ? plain : new Policy(live.schema, rules, new Set(differing.map((t) => t.id)));
}
