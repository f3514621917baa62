/**
 * A list in the order of the names that its records point to, for whoever may read all of them: read along the index of those names, so that
 * a page costs what it shows and not what the table has. Records without a name there stand together, as SQLite orders NULL: first when
 * rising, last when falling.
 */

import { type SQL, sql } from "drizzle-orm";
import { readable } from "@/core/access/guarded";
import { all, type Predicate } from "@/core/access/predicate";
import { scope } from "@/core/access/scope";
import { pointsToOne } from "@/core/schema/fields/natures";
import type { FieldOf, Scalar } from "@/core/schema/types";
import type { Access } from "../../access";
import { isFolded, keyName, physical } from "../../tables/physical";
import { countWhere } from "../counting/count-many";
import { compile, INLINE_LIST, Parameters, shape } from "./compile";
import type { Sort } from "./order";
import { seesAll } from "./search-index";
import { type Selection, selectionColumns, selectionShape } from "./select";

export interface ByRelation {
  readonly field: FieldOf<"relation">;
  readonly descending: boolean;
}

/** The one relation that a list is sorted by, where nothing of it or of the names is hidden from the viewer; else null. */
export function byRelation({ policy, viewer }: Access, table: string, sorts: readonly Sort[]): ByRelation | null {
  const [s, more] = sorts;
  const field = s && !more ? policy.schema.field(s.field) : undefined;
  // Clients have few records, and the way along everybody's would tell of the others by its time.
  if (!s || !(field && pointsToOne(field)) || !seesAll(viewer)) return null;
  const { target } = field.options;
  const label = policy.schema.table(target).labelFieldId;
  const open = all([readable(policy, viewer, field.id), scope(policy, viewer, target).predicate, readable(policy, viewer, label)]);
  return open.kind === "always" && field.tableId === table ? { field, descending: s.descending } : null;
}

interface Window {
  readonly where: Predicate;
  readonly chosen: Selection;
  readonly limit: number;
  readonly offset: number;
  /** The other way round: the last rows first. */
  readonly reversed: boolean;
}

/** Rows as a list selects them. */
export function rowsByRelation(d: Access, table: string, by: ByRelation, w: Window): unknown[][] {
  const descending = by.descending !== w.reversed;
  const rows: unknown[][] = [];
  let skip = w.offset;
  for (const part of descending ? (["named", "unnamed"] as const) : (["unnamed", "named"] as const)) {
    const wanted = w.limit - rows.length;
    if (wanted === 0) break;
    if (skip > 0) {
      const unnamed = countUnnamed(d, table, by, w.where);
      const n = part === "unnamed" ? unnamed : countWhere(d.file, d.policy.schema, table, w.where) - unnamed;
      if (skip >= n) {
        skip -= n;
        continue;
      }
    }
    const first = part === "named" && skip === 0 ? nameByName(d, table, by, w, descending, wanted) : null;
    rows.push(...(first ?? read(d, table, by, w, part, descending, wanted, skip)));
    skip = 0;
  }
  return rows;
}

/** Names that are asked for one by one. Where one has very many records, sorting them all by id for a page would cost more. */
const FIRST_NAMES = 200;

/** Ids of the records that come first by name, those of one name together; `all` where there are no others. */
function firstNames(d: Access, by: ByRelation, descending: boolean): { groups: string[][]; all: boolean } {
  const { target, key } = namesOf(d, by);
  const way = descending ? sql`DESC` : sql`ASC`;
  const build = (): SQL =>
    sql`SELECT id, ${key} FROM ${target} WHERE ${key} IS NOT NULL ORDER BY ${key} ${way}, id ${way} LIMIT ${sql.placeholder("p0")}`;
  const found = d.file.statements.rows(`names ${by.field.id}${descending ? "-" : "+"}`, build, [FIRST_NAMES]) as [string, string][];
  const groups: string[][] = [];
  for (const [i, [id, name]] of found.entries()) {
    if (i > 0 && found[i - 1]![1] === name) groups[groups.length - 1]!.push(id);
    else groups.push([id]);
  }
  const all = found.length < FIRST_NAMES;
  if (!all) groups.pop(); // there may be more of the last one's name
  return { groups, all };
}

/** Null where the first names have not as many records as are wanted, and there are others. */
function nameByName(d: Access, table: string, by: ByRelation, w: Window, descending: boolean, limit: number): unknown[][] | null {
  const { groups, all } = firstNames(d, by, descending);
  const { schema } = d.policy;
  const rows: unknown[][] = [];
  for (const ids of groups) {
    if (rows.length >= limit) break;
    const values: Scalar[] = [];
    const selected = selectionShape(w.chosen, d.policy, values);
    const key = `by name ${by.field.id}${descending ? "-" : "+"}${ids.length} ${selected} ${shape(w.where, schema, values)}`;
    const build = (): SQL => {
      const t = physical(schema, table);
      const params = new Parameters();
      const columns = sql.join(selectionColumns(w.chosen, d.policy, params), sql`, `);
      const condition = compile(w.where, table, schema, params);
      const pointing = ids.length === 1 ? sql`= ${params.next()}` : sql`IN ${params.list(ids.length)}`;
      const way = descending ? sql`DESC` : sql`ASC`;
      return sql`SELECT ${columns} FROM ${t.table} WHERE ${t.column(by.field.id)} ${pointing} AND ${condition} ORDER BY ${t.id} ${way} LIMIT ${params.next()}`;
    };
    const bound = ids.length > INLINE_LIST ? [JSON.stringify(ids)] : ids;
    rows.push(...d.file.statements.rows(key, build, [...values, ...bound, limit - rows.length]));
  }
  return all || rows.length >= limit ? rows : null;
}

function namesOf({ policy }: Access, { field }: ByRelation): { target: SQL; key: SQL } {
  const label = policy.schema.field(policy.schema.table(field.options.target).labelFieldId);
  return {
    target: sql`${sql.identifier(field.options.target)}`,
    key: sql`${sql.identifier(isFolded(label) ? keyName(label.id) : label.id)}`,
  };
}

/** By their row numbers: SQLite would read the whole table for the two conditions together, guessing that many records meet them. */
function isUnnamed(d: Access, by: ByRelation): SQL {
  const table = sql.identifier(by.field.tableId);
  const column = sql.identifier(by.field.id);
  const { target, key } = namesOf(d, by);
  const empty = sql`SELECT rowid FROM ${table} WHERE ${column} IS NULL`;
  const nameless = sql`SELECT pointing.rowid FROM ${target} AS named CROSS JOIN ${table} AS pointing ON pointing.${column} = named.id WHERE named.${key} IS NULL`;
  return sql`${table}.rowid IN (${empty} UNION ALL ${nameless})`;
}

function countUnnamed(d: Access, table: string, by: ByRelation, where: Predicate): number {
  const { schema } = d.policy;
  const values: Scalar[] = [];
  const key = `unnamed ${by.field.id} ${shape(where, schema, values)}`;
  const build = (): SQL => {
    const condition = compile(where, table, schema, new Parameters());
    return sql`SELECT count(*) FROM ${physical(schema, table).table} WHERE ${isUnnamed(d, by)} AND ${condition}`;
  };
  return Number(d.file.statements.row(key, build, values)![0]);
}

function read(
  d: Access,
  table: string,
  by: ByRelation,
  w: Window,
  part: "named" | "unnamed",
  descending: boolean,
  limit: number,
  offset: number,
): unknown[][] {
  const { schema } = d.policy;
  const values: Scalar[] = [];
  const selected = selectionShape(w.chosen, d.policy, values);
  const key = `by ${part} ${by.field.id}${descending ? "-" : "+"} ${selected} ${shape(w.where, schema, values)}`;
  const build = (): SQL => {
    const t = physical(schema, table);
    const params = new Parameters();
    const columns = sql.join(selectionColumns(w.chosen, d.policy, params), sql`, `);
    const condition = compile(w.where, table, schema, params);
    const way = descending ? sql`DESC` : sql`ASC`;
    const window = sql`LIMIT ${params.next()} OFFSET ${params.next()}`;
    if (part === "unnamed")
      return sql`SELECT ${columns} FROM ${t.table} WHERE ${isUnnamed(d, by)} AND ${condition} ORDER BY ${t.id} ${way} ${window}`;
    const { target, key: name } = namesOf(d, by);
    // CROSS JOIN: SQLite keeps the order of the loops, names outside, and so their index gives the order of the rows.
    return sql`SELECT ${columns} FROM ${target} AS named CROSS JOIN ${t.table} ON ${t.column(by.field.id)} = named.id
      WHERE named.${name} IS NOT NULL AND ${condition} ORDER BY named.${name} ${way}, ${t.id} ${way} ${window}`;
  };
  return d.file.statements.rows(key, build, [...values, limit, offset]);
}
