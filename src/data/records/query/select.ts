/** What is selected for a viewer, and how a row of SQLite becomes a record with its hidden fields left out. */
import { type SQL, sql } from "drizzle-orm";
import type { Policy } from "@/core/access/policy";
import type { Predicate } from "@/core/access/predicate";
import { knownFields, type Scope } from "@/core/access/scope";
import type { Viewer } from "@/core/access/who/viewer";
import type { Field, Scalar, Value } from "@/core/schema/types";
import { decodeValue, hasColumn, physical } from "../../tables/physical";
import { compile, type Parameters, shape } from "./compile";

export interface Selection {
  readonly table: string;
  readonly fields: readonly Field[];
  readonly stored: readonly Field[];
  /** Where grants list different fields, one column for each grant says whether it applies to the row. */
  readonly flags: readonly { readonly predicate: Predicate; readonly lists: ReadonlySet<string> }[][];
  readonly flagCount: number;
  /** The fields shown for each combination of those columns, by the combination as text. */
  readonly shown: Map<string, Shown>;
}

interface Shown {
  readonly visible: readonly Field[];
  /** Places among `stored` of the values shown. */
  readonly places: readonly number[];
}

/** `scopes` are all to be passed (seeing, or seeing and exporting): a field must be listed by a matching grant of each. */
export function selection(policy: Policy, viewer: Viewer, table: string, scopes: readonly Scope[], only?: ReadonlySet<string>): Selection {
  const known = new Set(knownFields(policy, viewer, table));
  const fields = policy.schema.table(table).fields.filter((f) => known.has(f.id) && (!only || only.has(f.id)));
  const flags = scopes
    .filter((s) => !s.everything && fields.some((f) => !s.grants.every((g) => g.grant.fields.includes(f.id))))
    .map((s) => s.grants.map((g) => ({ predicate: g.predicate, lists: new Set(g.grant.fields) })));
  return { table, fields, stored: fields.filter(hasColumn), flags, flagCount: flags.flat().length, shown: new Map() };
}

export function selectionShape(s: Selection, policy: Policy, values: Scalar[]): string {
  const flags = s.flags.map((group) => group.map((g) => shape(g.predicate, policy.schema, values)).join(";")).join("/");
  return `${s.stored.map((f) => f.id).join(",")}#${flags}`;
}

/** id, then the stored fields, then the flags. */
export function selectionColumns(s: Selection, policy: Policy, params: Parameters): SQL[] {
  const t = physical(policy.schema, s.table);
  const flags = s.flags.flat().map((g) => sql`(${compile(g.predicate, s.table, policy.schema, params)}) IS TRUE`);
  return [sql`${t.id}`, ...s.stored.map((f) => sql`${t.column(f.id)}`), ...flags];
}

export interface RawRecord {
  readonly id: string;
  readonly values: Record<string, Value>;
  readonly visible: readonly Field[];
}

export function decodeRow(s: Selection, row: readonly unknown[]): RawRecord {
  const values: Record<string, Value> = {};
  if (s.flags.length === 0) {
    for (let i = 0; i < s.stored.length; i++) values[s.stored[i]!.id] = decodeValue(s.stored[i]!, row[i + 1]);
    return { id: row[0] as string, values, visible: s.fields };
  }
  const { visible, places } = shownFor(s, row);
  for (const i of places) values[s.stored[i]!.id] = decodeValue(s.stored[i]!, row[i + 1]);
  return { id: row[0] as string, values, visible };
}

/** Few sets of grants match together, so what they show is worked out once for each. */
function shownFor(s: Selection, row: readonly unknown[]): Shown {
  const from = 1 + s.stored.length;
  let key = "";
  for (let i = from; i < from + s.flagCount; i++) key += row[i] === 1 ? "1" : "0";
  let known = s.shown.get(key);
  if (known) return known;
  let at = from;
  let visible = s.fields;
  for (const group of s.flags) {
    const matched = group.filter(() => row[at++] === 1);
    visible = visible.filter((f) => matched.some((g) => g.lists.has(f.id)));
  }
  const places = s.stored.flatMap((f, i) => (visible.includes(f) ? [i] : []));
  s.shown.set(key, (known = { visible, places }));
  return known;
}
