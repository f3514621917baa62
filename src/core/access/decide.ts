/** Decisions about one table or one record, reads and writes alike. Step 7 of access is `decideAdd` and `decideChange`. */
import { holdsFiles, isRelation } from "../schema/fields/natures";
import type { Value, Values } from "../schema/types";
import { allowed, type Decision, type Reason, refused } from "./decision";
import { match } from "./match";
import type { Policy } from "./policy";
import { linked, type Row, type World } from "./row";
import { actIdOf, type Doing } from "./rules";
import { type CountingGrant, type Scope, scope } from "./scope";
import { failures, trace } from "./trace";
import type { Viewer } from "./who/viewer";

/** May the viewer do this at all on the table (no row), or to this record? */
export function decide(policy: Policy, viewer: Viewer, action: Doing, table: string, row: Row | null, world: World): Decision {
  const s = scope(policy, viewer, table, action);
  if (s.everything) return allowed([]);
  if (s.grants.length === 0) return refused(...s.reasons);
  if (!row) return allowed(s.grants.map((g) => g.grant.id));
  if (needsSeeing(policy, action)) {
    const seen = decide(policy, viewer, "see", table, row, world);
    if (seen.outcome === "refused") return seen;
  }
  const { grants, reasons } = matching(policy, s, row, world);
  return grants.length > 0 ? allowed(grants.map((g) => g.grant.id)) : refused(...reasons);
}

/** All but seeing itself, adding, and acts that add. */
export const needsSeeing = (policy: Policy, action: Doing): boolean =>
  action !== "see" && action !== "add" && policy.act(actIdOf(action))?.on !== "add";

/** Field ids the viewer reads on this very record: those listed by a grant that matched it. */
export function fields(policy: Policy, viewer: Viewer, action: Doing, row: Row, world: World): string[] {
  const s = scope(policy, viewer, row.table, action);
  const all = policy.schema.table(row.table).fields.map((f) => f.id);
  if (s.everything) return all;
  const { grants } = matching(policy, s, row, world);
  return all.filter((id) => grants.some((g) => g.grant.fields.includes(id)));
}

/** Field ids of this very record whose files the viewer may have: those that a grant lists which does not give names alone. */
export function openFiles(policy: Policy, viewer: Viewer, row: Row, world: World): string[] {
  const s = scope(policy, viewer, row.table, "see");
  const all = policy.schema
    .table(row.table)
    .fields.filter(holdsFiles)
    .map((f) => f.id);
  if (s.everything) return all;
  const { grants } = matching(policy, s, row, world);
  return all.filter((id) => grants.some((g) => g.grant.fields.includes(id) && !g.grant.namesOnly?.includes(id)));
}

function matching(policy: Policy, s: Scope, row: Row, world: World): { grants: CountingGrant[]; reasons: Reason[] } {
  if (!match(s.wall, row, world, policy.schema)) return { grants: [], reasons: [{ code: "wall", table: row.table, found: row.companyId }] };
  const grants = s.grants.filter((g) => match(g.predicate, row, world, policy.schema));
  if (grants.length > 0) return { grants, reasons: [] };
  const reasons = s.grants.map(
    (g): Reason => ({ code: "filter", grant: g.grant.id, failed: failures(trace(g.predicate, row, world, policy.schema)) }),
  );
  return { grants: [], reasons: [...reasons, ...s.reasons] };
}

/** `row` is the record after defaults, fill rules and the automatic company; `given` are the fields the viewer supplied. */
export function decideAdd(policy: Policy, viewer: Viewer, row: Row, given: readonly string[], world: World): Decision {
  const s = scope(policy, viewer, row.table, "add");
  if (s.everything) return allowed([]);
  if (s.grants.length === 0) return refused(...s.reasons);
  const { grants, reasons } = matching(policy, s, row, world);
  if (grants.length === 0) return refused(...reasons);
  return withFieldsAndRelations(policy, viewer, grants, given, row.values, world);
}

/** `kept` are the ids that stay in a list though the viewer did not give them: those that they do not see. */
export function decideChange(
  policy: Policy,
  viewer: Viewer,
  before: Row,
  after: Row,
  changed: readonly string[],
  world: World,
  kept: Values = {},
): Decision {
  const s = scope(policy, viewer, before.table, "change");
  if (s.everything) return allowed([]);
  const seen = decide(policy, viewer, "see", before.table, before, world);
  if (seen.outcome === "refused") return refused({ code: "unseen", table: before.table });
  if (s.grants.length === 0) return refused(...s.reasons);
  const first = matching(policy, s, before, world);
  if (first.grants.length === 0) return refused(...first.reasons);
  const decided = withFieldsAndRelations(policy, viewer, first.grants, changed, after.values, world, kept);
  if (decided.outcome === "refused") return decided;
  const last = matching(policy, s, after, world);
  return last.grants.length === 0 ? refused({ code: "after", table: before.table }, ...last.reasons) : decided;
}

function withFieldsAndRelations(
  policy: Policy,
  viewer: Viewer,
  grants: readonly CountingGrant[],
  changed: readonly string[],
  values: Values,
  world: World,
  kept: Values = {},
): Decision {
  const reasons: Reason[] = [];
  for (const id of changed) {
    if (!grants.some((g) => g.grant.changes.includes(id))) reasons.push({ code: "field", field: id });
    else if (!relationsSeen(policy, viewer, id, values[id] ?? null, kept[id] ?? null, world)) reasons.push({ code: "relation", field: id });
  }
  return reasons.length > 0 ? refused(...reasons) : allowed(grants.map((g) => g.grant.id));
}

/** Whether these fields may be given beside what is done by these grants; none of the owner's are asked. */
export function decideFields(
  policy: Policy,
  viewer: Viewer,
  doing: Doing,
  by: readonly string[],
  given: readonly string[],
  values: Values,
  world: World,
  kept: Values = {},
): Decision {
  if (given.length === 0) return allowed(by);
  const s = scope(policy, viewer, policy.schema.field(given[0]!).tableId, doing);
  if (s.everything) return allowed(by);
  const grants = s.grants.filter((g) => by.includes(g.grant.id));
  return withFieldsAndRelations(policy, viewer, grants, given, values, world, kept);
}

/**
 * A relation may only point to records that the viewer sees; one that does not exist reads the same, and so does one that stands there
 * unseen: an id that somebody gives by hand is answered alike wherever it leads.
 */
function relationsSeen(policy: Policy, viewer: Viewer, fieldId: string, value: Value, kept: Value, world: World): boolean {
  const field = policy.schema.field(fieldId);
  if (!isRelation(field)) return true;
  const target = field.options.target;
  const seen = scope(policy, viewer, target).predicate;
  const notGiven = new Set(linked(kept));
  return linked(value).every((id) => {
    if (notGiven.has(id)) return true;
    const row = world.row(target, id);
    return row !== undefined && match(seen, row, world, policy.schema);
  });
}
