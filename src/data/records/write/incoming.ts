/** Values that a request sends for a record: system fields are dropped, defaults and the wall's company filled in, mistakes told as sentences. */

import type { Decision, Reason } from "@/core/access/decision";
import type { Policy } from "@/core/access/policy";
import { operandValue } from "@/core/access/resolve";
import { linked, type Row, type World } from "@/core/access/row";
import { scope } from "@/core/access/scope";
import { sideOf, type Viewer } from "@/core/access/who/viewer";
import { actorOf, actorText, type Event } from "@/core/events/event";
import type { Condition } from "@/core/schema/condition";
import { isRelation } from "@/core/schema/fields/natures";
import { holdsOfEmpty } from "@/core/schema/operators";
import type { SeenRecord } from "@/core/schema/seen";
import { type Field, isEmpty, type Table, type Value } from "@/core/schema/types";
import type { Access } from "../../access";
import type { UsedUp } from "../../billing/ledger";
import { record } from "../../events/record";

export type WriteError =
  | { code: "not-found" }
  | { code: "not-allowed"; reasons: readonly Reason[] }
  | { code: "plan-needed"; feature: string }
  /** What the plan allows in a month is used up. */
  | ({ code: "used-up" } & UsedUp)
  | { code: "invalid"; errors: { field: string; message: string }[] }
  | { code: "stale"; now: SeenRecord };

/** Who acts, by what, and when: what every event of a desk begins with. */
export const by = (d: Access): Pick<Event, "actor" | "via" | "at"> => ({
  actor: actorOf(d.viewer),
  via: d.via ?? "page",
  at: d.viewer.now,
});

/** By whom and when, as a row says it. */
export const made = (d: Access): { by: string; at: string } => ({
  by: actorText(actorOf(d.viewer)),
  at: new Date(d.viewer.now).toISOString(),
});

export type Given = Readonly<Record<string, Value>>;

/** The field that the wall fills in by itself: for a client, the company of a new record is the one they act for. */
export function automaticCompany(policy: Policy, viewer: Viewer, table: string): string | null {
  const wall = policy.wall(table);
  return sideOf(viewer) === "client" && wall.kind === "owned" && wall.path.length === 1 ? wall.path[0]! : null;
}

/** Why a field is needed though the table does not require it. */
export type Demand = "wall" | "grant";

/**
 * Fields without which a record of this viewer's would be refused: the relation that says whose it is, and what every grant by which they
 * could do it tests. Only fields that they may set; what a default fills is not asked for.
 */
export function demandedFields(policy: Policy, viewer: Viewer, tableId: string, action: "add" | "change"): ReadonlyMap<string, Demand> {
  const demanded = new Map<string, Demand>();
  const s = scope(policy, viewer, tableId, action);
  if (s.everything || s.grants.length === 0) return demanded;
  const settable = new Set(s.grants.flatMap((g) => g.grant.changes));
  const automatic = automaticCompany(policy, viewer, tableId);
  const ask = (field: string, why: Demand): void => {
    const f = policy.schema.findField(field);
    const filled = action === "add" && f?.options.default !== undefined;
    if (f && settable.has(field) && field !== automatic && !f.system && !filled && !demanded.has(field)) demanded.set(field, why);
  };
  const wall = policy.wall(tableId);
  if (sideOf(viewer) === "client" && wall.kind === "owned" && wall.path.length > 0) ask(wall.path[0]!, "wall");
  const tested = s.grants.map((g) => neededBy(g.grant.filter));
  for (const field of tested[0] ?? []) if (tested.every((t) => t.has(field))) ask(field, "grant");
  return demanded;
}

/** Fields that must hold something for the condition to hold at all. */
function neededBy(c: Condition | null): Set<string> {
  if (!c) return new Set();
  if (c.kind === "test") return holdsOfEmpty(c.operator) ? new Set() : new Set([c.path[0]!]);
  if (c.kind === "not") return new Set();
  const parts = c.of.map(neededBy);
  if (c.kind === "all") return new Set(parts.flatMap((p) => [...p]));
  return new Set([...(parts[0] ?? [])].filter((f) => parts.every((p) => p.has(f))));
}

/** The sentence beside a field that is demanded and empty. */
export function demandWords(table: Table, f: Field, why: Demand): string {
  return why === "wall"
    ? `${f.name} is needed: it says whose this ${table.singular.toLowerCase()} is.`
    : `${f.name} is needed: whether you may do this depends on it.`;
}

/** Fields that nobody sets by hand are dropped, whatever the request carries, and the log says so. */
export function withoutSystemFields(d: Access, table: Table, given: Given): Given {
  const { file, policy, viewer } = d;
  const automatic = automaticCompany(policy, viewer, table.id);
  const dropped = Object.keys(given).filter((id) => {
    const f = policy.schema.field(id);
    return id === automatic || f.options.kept !== undefined || (f.system && viewer.kind !== "owner");
  });
  if (dropped.length === 0) return given;
  record(file, { ...by(d), kind: "fields-dropped", table: table.id, detail: dropped.join(",") });
  return Object.fromEntries(Object.entries(given).filter(([id]) => !dropped.includes(id)));
}

/** What a new record has in fields that nobody filled in, for this viewer. */
export function defaults(table: Table, viewer: Viewer): Given {
  const given = table.fields.flatMap((f): [string, Value][] => {
    const d = f.options.default;
    if (!d || (d.kind === "viewer" && viewer.kind !== "person" && viewer.kind !== "key")) return [];
    const v = operandValue(d, viewer);
    return isEmpty(v) ? [] : [[f.id, v]];
  });
  return Object.fromEntries(given);
}

export function ownerCompany(policy: Policy, table: string, id: string, values: Given, world: World): string | null {
  const wall = policy.wall(table);
  if (wall.kind !== "owned") return null;
  if (wall.path.length === 0) return id;
  let row: Pick<Row, "values"> | undefined = { values };
  let at: string | null = null;
  for (const hop of wall.path) {
    at = linked(row?.values[hop])[0] ?? null;
    row = at ? world.row(policy.schema.relation(hop).options.target, at) : undefined;
  }
  return at;
}

/** The company within which values are unlike each other; undefined where all records of the table are compared. */
export function scopeCompany(policy: Policy, table: Table, company: string | null): string | null | undefined {
  return table.kind === "ordinary" && policy.wall(table.id).kind === "owned" ? company : undefined;
}

export function missing(table: Table, values: Given): { field: string; message: string }[] {
  return table.fields
    .filter((f) => f.options.required && !f.system && isEmpty(values[f.id]))
    .map((f) => ({ field: f.id, message: `${f.name} is needed.` }));
}

/** Relations must point at records that exist, for the owner too. */
export function dangling(policy: Policy, given: Given, world: World): { field: string; message: string }[] {
  return Object.entries(given)
    .filter(([id, v]) => {
      const f = policy.schema.field(id);
      return isRelation(f) && linked(v).some((x) => !world.row(f.options.target, x));
    })
    .map(([id]) => ({ field: id, message: `${policy.schema.field(id).name} must point to a record that you can see.` }));
}

export function refusal(policy: Policy, d: Decision & { outcome: "refused" }): WriteError {
  const relations = d.reasons.filter((r) => r.code === "relation");
  if (relations.length === d.reasons.length && relations.length > 0) {
    return {
      code: "invalid",
      errors: relations.map((r) => ({
        field: r.field,
        message: `${policy.schema.field(r.field).name} must point to a record that you can see.`,
      })),
    };
  }
  const feature = d.reasons.find((r) => r.code === "feature");
  if (feature && d.reasons.every((r) => r.code === "feature")) return { code: "plan-needed", feature: feature.feature };
  if (d.reasons.some((r) => r.code === "unseen")) return { code: "not-found" };
  return { code: "not-allowed", reasons: d.reasons };
}
