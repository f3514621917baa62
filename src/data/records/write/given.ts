/** What a request gives for a record, and what becomes of it: system fields dropped, defaults, the wall's company, mistakes as sentences. */

import type { Decision, Reason } from "@/core/access/decision";
import type { Policy } from "@/core/access/policy";
import { operandValue } from "@/core/access/resolve";
import { linked, type Row, type World } from "@/core/access/row";
import { scope } from "@/core/access/scope";
import { sideOf, type Viewer } from "@/core/access/viewer";
import { actorOf, actorText, type Event } from "@/core/events/event";
import type { SeenRecord } from "@/core/records";
import { isEmpty, isRelation, type Table, type Value } from "@/core/schema/types";
import { record } from "../../events/record";
import type { Access } from "../access";

export type WriteError =
  | { code: "not-found" }
  | { code: "not-allowed"; reasons: readonly Reason[] }
  | { code: "plan-needed"; feature: string }
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

/** The relation without which a client's new record would be nobody's, and be refused; null where they cannot set it anyway. */
export function demandedField(policy: Policy, viewer: Viewer, table: string): string | null {
  const wall = policy.wall(table);
  if (sideOf(viewer) !== "client" || wall.kind !== "owned" || wall.path.length < 2) return null;
  const [first] = wall.path;
  return scope(policy, viewer, table, "add").grants.some((g) => g.grant.changes.includes(first!)) ? first! : null;
}

/** Fields that nobody sets by hand are dropped, whatever the request carries, and the log says so. */
export function withoutSystemFields(d: Access, table: Table, given: Given): Given {
  const { file, policy, viewer } = d;
  const automatic = automaticCompany(policy, viewer, table.id);
  const dropped = Object.keys(given).filter((id) => id === automatic || (policy.schema.field(id).system && viewer.kind !== "owner"));
  if (dropped.length === 0) return given;
  record(file, { ...by(d), act: "fields dropped", table: table.id, detail: dropped.join(",") });
  return Object.fromEntries(Object.entries(given).filter(([id]) => !dropped.includes(id)));
}

export function defaults(table: Table, viewer: Viewer): Given {
  const given = table.fields.flatMap((f): [string, Value][] => {
    const d = f.options.default;
    if (!d || (d.kind === "viewer" && viewer.kind !== "person")) return [];
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

export function missing(table: Table, values: Given): { field: string; message: string }[] {
  return table.fields
    .filter((f) => f.options.required && isEmpty(values[f.id]))
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
