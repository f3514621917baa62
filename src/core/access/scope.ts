/** Which records of a table a viewer may see, change, ... as a predicate, and which of their fields. Steps 1 to 6 of access. */

import { Memo } from "../memo";
import { isBook } from "../schema/books";
import { type Operand, testsOf } from "../schema/condition";
import { isRelation, pointsToSeveral } from "../schema/fields/natures";
import { SHOWN_FIELD } from "../schema/types";
import { dateIn } from "../time/relative";
import type { Reason } from "./decision";
import type { Policy } from "./policy";
import { all, always, among, any, compare, never, not, owned, type Predicate, via } from "./predicate";
import { operandValue, resolve } from "./resolve";
import { actIdOf, type Doing, type Grant, opens } from "./rules";
import { sideOf, type Viewer, type Worked } from "./who/viewer";
import { isWithin } from "./who/within";

export interface CountingGrant {
  readonly grant: Grant;
  readonly predicate: Predicate;
}

export interface Scope {
  /** Wall and grants together. `never` is a value: a viewer without grants sees nothing. */
  readonly predicate: Predicate;
  readonly wall: Predicate;
  readonly grants: readonly CountingGrant[];
  /** Why nothing counts, or which grants were set aside. */
  readonly reasons: readonly Reason[];
  /** True of the owner alone, to whom every field is open. */
  readonly everything: boolean;
}

const OPEN: Scope = Object.freeze({ predicate: always, wall: always, grants: [], reasons: [], everything: true });
const closed = (reasons: readonly Reason[], wall: Predicate = never): Scope => ({
  predicate: never,
  wall,
  grants: [],
  reasons,
  everything: false,
});

/** Bases of all viewers of the same side, company and roles. */
type Bases = { [D in Doing]?: Map<string, Basis> };

interface Known {
  readonly basis: Basis;
  readonly scope: Scope;
  readonly next: Known | null;
}

/** What was worked out for one viewer under the policy last asked about; lives and dies with the request. */
interface WorkedOut extends Worked {
  policy: Policy | null;
  bases: Bases | null;
  /** The last worked out first; while they are few, a list is quicker than a map. */
  scopes: Known | null;
  /** Instead of the list, of whoever is asked about everything. */
  many: Map<Basis, Scope> | null;
}

/** The rows of a table that a viewer may do something to, and the fields of each: what every list, count and write is narrowed by. */
export function scope(policy: Policy, viewer: Viewer, table: string, action: Doing = "see"): Scope {
  if (action !== "see" && action !== "export" && isBook(table)) return closed([{ code: "books", table }]);
  if (viewer.kind === "owner") return OPEN;
  const within = viewer.key?.within;
  if (within && !isWithin(within, table, action)) return closed([{ code: "key", table }]);
  if (viewer.person && viewer.person.status !== "active") return closed([{ code: "account", status: viewer.person.status }]);
  const worked = viewer.worked as WorkedOut;
  if (worked.policy !== policy) {
    worked.policy = policy;
    worked.bases = basesFor(policy, viewer);
    worked.scopes = null;
    worked.many = null;
  }
  const bases = (worked.bases![action] ??= new Map());
  let basis = bases.get(table);
  if (!basis) bases.set(table, (basis = basisOf(policy, viewer, table, action)));
  if (worked.many) {
    const known = worked.many.get(basis);
    if (known) return known;
  }
  let listed = 0;
  for (let known = worked.scopes; known; known = known.next, listed++) if (known.basis === basis) return known.scope;
  const s = scopeOn(basis, policy, viewer, table, action);
  if (worked.many) worked.many.set(basis, s);
  else {
    worked.scopes = { basis, scope: s, next: worked.scopes };
    if (listed >= FEW) intoMap(worked);
  }
  return s;
}

const FEW = 6;

function intoMap(worked: WorkedOut): void {
  worked.many = new Map();
  for (let known = worked.scopes; known; known = known.next) worked.many.set(known.basis, known.scope);
  worked.scopes = null;
}

function basesFor(policy: Policy, viewer: Viewer): Bases {
  // Roles held without a company are the agency's: a visitor, who has neither, is told apart by the empty list.
  const roles = sideOf(viewer) === "visitor" ? "" : viewer.roles.length === 1 ? viewer.roles[0]! : ` ${viewer.roles.join()}`;
  return policy.memo(viewer.company?.id ?? null, roles, () => ({
    see: new Map(),
    add: new Map(),
    change: new Map(),
    remove: new Map(),
    export: new Map(),
  }));
}

/** A scope follows from the roles and company of its basis and from what is asked here; the same answers give the same scope. */
function scopeOn(basis: Basis, policy: Policy, viewer: Viewer, table: string, action: Doing): Scope {
  const { known } = basis;
  let at = known.root;
  if (basis.dated) at = step(at, dateIn(viewer.now, viewer.timeZone));
  for (const f of basis.features) at = step(at, viewer.features.has(f));
  for (const o of basis.operands) {
    const v = operandValue(o, viewer);
    if (v === null || typeof v !== "object") at = step(at, v);
    else {
      at = step(at, (LENGTHS[v.length] ??= Symbol(`list of ${v.length}`)));
      for (const x of v) at = step(at, x);
    }
  }
  if (!at.scope) {
    if (known.size++ >= MOST_SCOPES) Object.assign(known, { root: answer(), size: 0 });
    at.scope = build(policy, viewer, table, action, basis);
  }
  return at.scope;
}

/** Scopes by what the viewer answers to each thing that their grants ask, in order; a list begins with its length. */
interface Answer {
  readonly next: Map<unknown, Answer>;
  scope: Scope | null;
}
const answer = (): Answer => ({ next: new Map(), scope: null });
const LENGTHS: symbol[] = [];

function step(from: Answer, value: unknown): Answer {
  let to = from.next.get(value);
  if (!to) from.next.set(value, (to = answer()));
  return to;
}

/** Scopes remembered for one basis; more viewers than this of one company and the same roles work theirs out again. */
const MOST_SCOPES = 2000;

/** What a scope depends on besides roles and company. */
interface Basis {
  readonly known: { root: Answer; size: number };
  readonly wall: Predicate;
  /** Grants that the viewer's roles give, whether or not they count now. */
  readonly grants: readonly Grant[];
  readonly features: readonly string[];
  readonly operands: readonly Operand[];
  readonly dated: boolean;
}

function basisOf(policy: Policy, viewer: Viewer, table: string, action: Doing): Basis {
  const roles = activeRoles(policy, viewer);
  const grants = policy.grantsOn(table).filter((g) => opens(g, action) && g.roles.some((r) => roles.has(r)));
  return {
    known: { root: answer(), size: 0 },
    wall: wallFor(policy, viewer, table, action),
    grants,
    features: [...new Set(grants.flatMap((g) => g.feature ?? []))],
    operands: grants
      .flatMap((g) => testsOf(g.filter))
      .flatMap((t) => t.operands)
      .filter((o) => o.kind !== "literal"),
    dated: grants.some((g) => g.validFrom || g.validUntil),
  };
}

function build(policy: Policy, viewer: Viewer, table: string, action: Doing, basis: Basis): Scope {
  const { wall } = basis;
  if (wall.kind === "never") return closed([wallReason(policy, viewer, table)]);
  const grants: CountingGrant[] = [];
  const reasons: Reason[] = [];
  const today = basis.dated ? dateIn(viewer.now, viewer.timeZone) : "";
  for (const grant of basis.grants) {
    if (grant.feature && !viewer.features.has(grant.feature)) reasons.push({ code: "feature", grant: grant.id, feature: grant.feature });
    else if (grant.validFrom && today < grant.validFrom) reasons.push({ code: "not-yet", grant: grant.id, date: grant.validFrom });
    else if (grant.validUntil && today > grant.validUntil) reasons.push({ code: "over", grant: grant.id, date: grant.validUntil });
    else grants.push({ grant, predicate: resolve(grant.filter, viewer) });
  }
  if (grants.length === 0) return closed(reasons.length > 0 ? reasons : [{ code: "no-grant", action, table }], wall);
  return { predicate: all([wall, any(grants.map((g) => g.predicate))]), wall, grants, reasons, everything: false };
}

/** Roles of the active membership with all they include. A company's own role counts there alone; no agency role in a company. */
export function activeRoles(policy: Policy, viewer: Viewer): ReadonlySet<string> {
  const side = sideOf(viewer);
  const counts = (id: string): boolean => {
    const role = policy.role(id);
    if (!role) return false;
    if (role.companyId && role.companyId !== viewer.company?.id) return false;
    return side === "client" ? role.side !== "agency" : side === "visitor" ? role.side === "visitor" : true;
  };
  // Without a company only agency roles are held: a client role there would stand outside every wall.
  const holds = (id: string): boolean => counts(id) && (side !== "agency" || policy.role(id)?.side === "agency");
  const held = side === "visitor" ? policy.rules.roles.filter((r) => r.side === "visitor").map((r) => r.id) : viewer.roles;
  return new Set(held.filter(holds).flatMap((id) => [...policy.closure(id)].filter(counts)));
}

/** Within it, grants open what they open. For people it lets through, to be seen alone, those of the agency who are marked as shown. */
export function wallFor(policy: Policy, viewer: Viewer, table: string, action: Doing): Predicate {
  // An intake form that nobody outside can read back: a visitor's adding alone passes what is the agency's own.
  if (sideOf(viewer) === "visitor" && addsOne(policy, action) && policy.wall(table).kind === "agency-only") return always;
  const own = ownWall(policy, viewer, table);
  const client = sideOf(viewer) === "client" && viewer.company !== null;
  if (action !== "see" || !client || own.kind === "always" || own.kind === "never") return own;
  const of = policy.schema.table(table);
  const marked = of.kind === "people" && of.fields.some((f) => f.id === SHOWN_FIELD);
  // Whoever belongs to a company is on its side of the wall, whatever is marked.
  return marked ? any([own, all([compare(SHOWN_FIELD, "is", [true]), not(via(COMPANIES_FIELD, always))])]) : own;
}
const addsOne = (policy: Policy, action: Doing): boolean => action === "add" || policy.act(actIdOf(action))?.on === "add";
const COMPANIES_FIELD = "f_person_companies";

function ownWall(policy: Policy, viewer: Viewer, table: string): Predicate {
  const side = sideOf(viewer);
  if (side === "owner" || side === "agency") return always;
  const wall = policy.wall(table);
  if (wall.kind === "agency-only") return never;
  if (wall.kind === "shared") return always;
  if (side === "visitor" || !viewer.company) return never;
  // The company at the end of a to-one path is stored in the row; a path that begins with a many-relation is followed anew.
  const first = wall.path[0] ? policy.schema.field(wall.path[0]) : undefined;
  return (first !== undefined && pointsToSeveral(first)) || policy.movedWalls.has(table)
    ? walk(wall.path, viewer.company.id)
    : owned(viewer.company.id);
}

function walk(path: readonly string[], company: string): Predicate {
  return path.reduceRight<Predicate>((p, hop) => via(hop, p), among([company]));
}

/** Records that the path leads to some company from, but not to this one (null: to any at all). */
function ownedByOthers(path: readonly string[], company: string | null): Predicate {
  const owner = path.reduceRight<Predicate>((p, hop) => via(hop, p), always);
  return company === null ? owner : all([owner, not(walk(path, company))]);
}

const elsewhere = new Memo<Predicate, string, Predicate>();

/** Of these records, those that the path leads to another company from: one predicate for all who share both, so that it is counted once. */
export function ownedElsewhere(within: Predicate, path: readonly string[], company: string | null): Predicate {
  return elsewhere.of(within, `${path.join()} ${company}`, () => all([within, ownedByOthers(path, company)]));
}

function wallReason(policy: Policy, viewer: Viewer, table: string): Reason {
  const wall = policy.wall(table);
  return wall.kind === "agency-only"
    ? { code: "agency-only", table }
    : { code: sideOf(viewer) === "visitor" ? "signed-out" : "no-company", table };
}

/** Where a field may be read (or set), among records that are in scope already. */
export function fieldWhere(s: Scope, field: string, to: "fields" | "changes" = "fields"): Predicate {
  if (s.everything) return always;
  const listing = s.grants.filter((g) => g.grant[to].includes(field));
  return listing.length === s.grants.length && listing.length > 0 ? always : any(listing.map((g) => g.predicate));
}

/** Field ids that at least one counting grant lists: what a viewer may know to exist. */
export function knownFields(policy: Policy, viewer: Viewer, table: string, action: Doing = "see"): string[] {
  const s = scope(policy, viewer, table, action);
  const fields = policy.schema.table(table).fields.map((f) => f.id);
  return s.everything ? fields : fields.filter((id) => s.grants.some((g) => g.grant.fields.includes(id)));
}

/** Exporting needs its own grant on top of seeing: rows and fields must pass both. */
export const exportScopes = (policy: Policy, viewer: Viewer, table: string): readonly Scope[] => [
  scope(policy, viewer, table, "see"),
  scope(policy, viewer, table, "export"),
];

/** Id of the table that a relation points to; undefined where the field is none. Throws where there is no such field. */
export const relationTarget = (policy: Policy, field: string): string | undefined => {
  const f = policy.schema.field(field);
  return isRelation(f) ? f.options.target : undefined;
};
