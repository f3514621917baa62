/**
 * Reading records. Every function asks for a viewer, and there is no other way to client-visible records: lists, counts,
 * single records and exports all pass through one predicate made by `core/access`.
 */

import { type SQL, sql } from "drizzle-orm";
import type { Policy } from "@/core/access/policy";
import type { Predicate } from "@/core/access/predicate";
import { knownFields, type Scope, scope } from "@/core/access/scope";
import type { Viewer } from "@/core/access/who/viewer";
import type { SeenRecord } from "@/core/schema/seen";
import type { Scalar } from "@/core/schema/types";
import type { Access } from "../../access";
import { physical } from "../../tables/physical";
import { countRecords, knownCount, noteCount } from "../counting/count";
import { byRelation, rowsByRelation } from "./by-relation";
import { compile, Parameters, shape } from "./compile";
import { follow } from "./follow";
import { withLinks } from "./links";
import { afterShape, afterSql, defaultSort, type Position, type Sort, type SortKey, sortKey } from "./order";
import { searchHint, seesAll } from "./search-index";
import { decodeRow, type RawRecord, type Selection, selection, selectionColumns, selectionShape } from "./select";
import { type ListQuery, scopesFor, wherePredicate } from "./where";

export interface Page {
  readonly records: SeenRecord[];
  /** Whether the list goes on. */
  readonly more: boolean;
  /** The position after the last record, or null at the end; asked for only where a list goes on from a cursor. */
  next(): Position | null;
}

interface Listing {
  readonly key: string;
  readonly build: () => SQL;
  readonly bound: readonly unknown[];
  readonly chosen: Selection;
  readonly where: Predicate;
  /** Narrowed by a search's index. */
  readonly hinted: boolean;
  readonly sorts: readonly Sort[];
}

/** The statement of a list with its values, or null where nothing can be in it. `counts`: each row ends with how many there are in all. */
function listing(d: Access, table: string, q: ListQuery, most: number, counts = false): Listing | null {
  const { file, policy, viewer } = d;
  const where = wherePredicate(policy, viewer, table, q);
  if (where.kind === "never") return null;
  const { schema } = policy;
  const scopes = scopesFor(policy, viewer, table, q);
  // What a scope lets a list select is the same for every list of that scope.
  const chosen =
    scopes.length === 1
      ? file.statements.of(scopes[0]!, `list ${table} ${schema.version} ${q.only ? [...q.only].join() : "*"}`, () =>
          selection(policy, viewer, table, scopes, q.only),
        )
      : selection(policy, viewer, table, scopes, q.only);
  const known = new Set(knownFields(policy, viewer, table));
  const sorts = (q.sort?.length ? q.sort : defaultSort(policy, table)).filter((s) => known.has(s.field));

  const values: Scalar[] = [];
  const selected = selectionShape(chosen, policy, values);
  const keys = sorts.map((s) => sortKey(policy, viewer, table, s, values));
  const tests: Scalar[] = [];
  const conditions = shape(where, schema, tests);
  values.push(...tests);
  const hint = q.search?.trim() ? searchHint(d, table, q.search.trim()) : null;
  if (hint) values.push(...hint.values);
  const after = q.after ? afterShape(q.after) : "";
  const key = `list ${table} ${selected} ${keys.map((k) => k.shape).join(",")} ${conditions} ${hint?.shape ?? ""} ${after} ${q.offset ? "o" : ""}${q.fromEnd ? "e" : ""}${counts ? "n" : ""}`;
  const bound: unknown[] = [...values];
  if (q.after) bound.push(...keys.map((_, i) => q.after![i] ?? null), q.after[keys.length]);
  bound.push(most);
  if (q.offset) bound.push(q.offset);
  if (counts) bound.push(...tests);

  const build = (): SQL => {
    const t = physical(schema, table);
    const params = new Parameters();
    const columns = selectionColumns(chosen, policy, params);
    const order = keys.map((k) => k.build(params));
    const tested = compile(where, table, schema, params);
    const condition = hint ? sql`${hint.build(params)} AND ${tested}` : tested;
    // Going on from a position names each sort value twice, so it is selected under a name; a first page need not carry it.
    const ordered = q.after ? order.map((_, i) => sql`${sql.identifier(`s${i}`)}`) : order;
    const sortColumns = q.after ? order.map((o, i) => sql`${o} AS ${sql.identifier(`s${i}`)}`) : [];
    const direction = (k: SortKey | undefined) => ((k?.descending ?? false) !== (q.fromEnd ?? false) ? sql`DESC` : sql`ASC`);
    const by = [...keys.map((k, i) => sql`${ordered[i]} ${direction(k)}`), sql`${t.id} ${direction(keys[keys.length - 1])}`];
    const next = q.after ? sql` AND ${afterSql(q.after, keys, ordered, t.id, params)}` : sql``;
    const limit = params.next();
    const offset = q.offset ? sql` OFFSET ${params.next()}` : sql``;
    const all = counts ? [sql`(SELECT count(*) FROM ${t.table} WHERE ${compile(where, table, schema, params)})`] : [];
    return sql`SELECT ${sql.join([...columns, ...sortColumns, ...all], sql`, `)} FROM ${t.table} WHERE ${condition}${next} ORDER BY ${sql.join(by, sql`, `)} LIMIT ${limit}${offset}`;
  };
  return { key, build, bound, chosen, where, hinted: hint !== null, sorts };
}

/**
 * Records of a table that the viewer may see, each with the fields that they read on it, in the order asked for. What the viewer filters,
 * sorts or searches by counts as empty where they do not read it. At most `q.limit`; `next()` of the answer goes on from the last. Throws
 * for a table or field that the schema does not have.
 */
export function listRecords(d: Access, table: string, q: ListQuery): Page {
  const l = listing(d, table, q, q.fromEnd ? q.limit : q.limit + 1);
  if (!l) return { records: [], more: false, next: () => null };
  const { chosen, sorts } = l;
  const by = q.after || l.hinted ? null : byRelation(d, table, sorts);
  const limit = q.fromEnd ? q.limit : q.limit + 1;
  const rows = by
    ? rowsByRelation(d, table, by, { where: l.where, chosen, limit, offset: q.offset ?? 0, reversed: q.fromEnd ?? false })
    : d.file.statements.rows(l.key, l.build, l.bound);
  if (q.fromEnd) rows.reverse();
  follow(d, table, q);
  const more = rows.length > q.limit;
  if (more) rows.pop();
  const records = withLinks(
    d,
    rows.map((r) => decodeRow(chosen, r)),
    chosen.fields,
  );
  const last = rows[rows.length - 1]?.[0] as string | undefined;
  return { records, more, next: () => (more && last !== undefined ? positionOf(d, table, sorts, last) : null) };
}

/** Records looked up together for the names of what they point to. */
const PIECE = 500;
/** SQLite: a negative limit is none. */
const ALL = -1;

/** All that a list has, whatever its limit, in its order, piece by piece off one cursor: of one moment, and never all in memory. */
export function* eachRecord(d: Access, table: string, q: ListQuery): Generator<SeenRecord[]> {
  const l = listing(d, table, q, ALL);
  if (!l) return;
  const { chosen } = l;
  let piece: RawRecord[] = [];
  for (const row of d.file.statements.each(l.key, l.build, l.bound)) {
    piece.push(decodeRow(chosen, row));
    if (piece.length < PIECE) continue;
    yield withLinks(d, piece, chosen.fields);
    piece = [];
  }
  if (piece.length > 0) yield withLinks(d, piece, chosen.fields);
}

function positionOf(d: Access, table: string, sorts: readonly Sort[], id: string): Position {
  const { file, policy, viewer } = d;
  if (sorts.length === 0) return [id];
  const values: Scalar[] = [];
  const keys = sorts.map((s) => sortKey(policy, viewer, table, s, values));
  const build = (): SQL => {
    const t = physical(policy.schema, table);
    const params = new Parameters();
    return sql`SELECT ${sql.join(
      keys.map((k) => k.build(params)),
      sql`, `,
    )} FROM ${t.table} WHERE ${t.id} = ${params.next()}`;
  };
  const found = file.statements.row(`position ${table} ${keys.map((k) => k.shape).join(",")}`, build, [...values, id]);
  return [...(found as Position), id];
}

/** The first records of a list, and how many there are: in one statement where a list of so many is not counted by other means. */
export function firstOf(d: Access, table: string, q: Omit<ListQuery, "offset" | "after">): { records: SeenRecord[]; total: number } {
  const plain = !q.search?.trim() && !q.fromEnd && !seesAll(d.viewer) && knownCount(d, table, q) === undefined;
  const l = plain && !byRelation(d, table, q.sort ?? []) ? listing(d, table, q, q.limit + 1, true) : null;
  if (l) {
    const rows = d.file.statements.rows(l.key, l.build, l.bound);
    follow(d, table, q);
    const total = Number(rows[0]?.at(-1) ?? 0);
    noteCount(d, table, q, total);
    const raw = rows.slice(0, q.limit).map((r) => decodeRow(l.chosen, r));
    return { records: withLinks(d, raw, l.chosen.fields), total };
  }
  const { records, more } = listRecords(d, table, q);
  return { records, total: more ? countRecords(d, table, q) : records.length };
}

export interface PageQuery extends Omit<ListQuery, "limit" | "offset" | "after"> {
  /** As asked for, from 1; one that is not there becomes the nearest that is. */
  readonly page: number;
  readonly size: number;
}
export interface Paged {
  readonly records: SeenRecord[];
  readonly total: number;
  readonly page: number;
  readonly pages: number;
}

/**
 * One page of `size` records, and of how many pages and records, as `listRecords` has them. A page that is not there becomes the nearest that
 * is, from 1.
 */
export function pageOf(d: Access, table: string, { page: asked, size, ...q }: PageQuery): Paged {
  if (!(asked > 1)) {
    const first = firstOf(d, table, { ...q, limit: size });
    return { ...first, page: 1, pages: Math.max(1, Math.ceil(first.total / size)) };
  }
  const total = countRecords(d, table, q);
  const pages = Math.max(1, Math.ceil(total / size));
  const page = Math.min(pages, Math.max(1, Number.isSafeInteger(asked) ? asked : 1));
  const from = (page - 1) * size;
  // The second half of a list is nearer to its end.
  const part =
    from > total / 2
      ? { limit: Math.min(size, total - from), offset: Math.max(0, total - from - size), fromEnd: true }
      : { limit: size, offset: from };
  const records = total === 0 ? [] : listRecords(d, table, { ...q, ...part }).records;
  return { records, total, page, pages };
}

/** Undefined alike for a record that does not exist and for one that the viewer does not see. */
export function readRecord(d: Access, table: string, id: string): SeenRecord | undefined {
  const { file, policy, viewer } = d;
  const s = scope(policy, viewer, table);
  if (s.predicate.kind === "never") return undefined;
  // Scopes live as long as their policy: what is selected and how follows from one, and only the id is new.
  const one = file.statements.of(s, `one ${table} ${policy.schema.version}`, () => oneOf(policy, viewer, table, s));
  const row = file.statements.row(one.key, one.build, [...one.before, id, ...one.after]);
  return row ? withLinks(d, [decodeRow(one.chosen, row)], one.chosen.fields)[0] : undefined;
}

function oneOf(policy: Policy, viewer: Viewer, table: string, s: Scope) {
  const chosen = selection(policy, viewer, table, [s]);
  const before: Scalar[] = [];
  const selected = selectionShape(chosen, policy, before);
  const after: Scalar[] = [];
  const key = `one ${table} ${selected} ${shape(s.predicate, policy.schema, after)}`;
  const build = (): SQL => {
    const t = physical(policy.schema, table);
    const params = new Parameters();
    const columns = selectionColumns(chosen, policy, params);
    const where = sql`${t.id} = ${params.next()} AND ${compile(s.predicate, table, policy.schema, params)}`;
    return sql`SELECT ${sql.join(columns, sql`, `)} FROM ${t.table} WHERE ${where}`;
  };
  return { chosen, key, build, before, after };
}
