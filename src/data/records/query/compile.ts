/**
 * The SQL reader of predicates. Every node yields SQL, never nothing: `never` is `0`. A node's SQL is TRUE exactly where the
 * matcher says true; NULL may stand for false, so negation is always `IS NOT TRUE` (SQLite, "NULL handling").
 */

import { type SQL, sql } from "drizzle-orm";
import { foldsCase } from "@/core/access/compare";
import type { Predicate } from "@/core/access/predicate";
import { assertNever } from "@/core/assert-never";
import { choosesSeveral, holdsFiles, pointsToSeveral } from "@/core/schema/fields/natures";

import type { Field, RelationField, Scalar, Schema } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { linkColumns, linkTableName, type Physical, physical } from "../../tables/physical";

/** Longer lists travel as one JSON parameter, so that their length does not make a new statement. */
export const INLINE_LIST = 8;

/** Collects parameters in the order of the walk; `shape` walks in the same order and yields the same values. */
export class Parameters {
  #n = 0;
  next = (): SQL => sql`${sql.placeholder(`p${this.#n++}`)}`;
  list = (length: number): SQL =>
    length <= INLINE_LIST
      ? sql`(${sql.join(
          Array.from({ length }, () => this.next()),
          sql`, `,
        )})`
      : sql`(SELECT value FROM json_each(${this.next()}))`;
}

/** A predicate as SQL over a table, its values as bound parameters. */
export function compile(p: Predicate, tableId: string, schema: Schema, params: Parameters): SQL {
  const t = physical(schema, tableId);
  switch (p.kind) {
    case "always":
      return sql`1`;
    case "never":
      return sql`0`;
    case "all":
      return sql`(${sql.join(
        p.of.map((q) => compile(q, tableId, schema, params)),
        sql` AND `,
      )})`;
    case "any":
      return sql`(${sql.join(
        p.of.map((q) => compile(q, tableId, schema, params)),
        sql` OR `,
      )})`;
    case "not":
      return sql`((${compile(p.of, tableId, schema, params)}) IS NOT TRUE)`;
    case "owned":
      return sql`${t.company} = ${params.next()}`;
    case "among":
      return sql`${t.id} IN ${params.list(p.ids.length)}`;
    case "compare":
      return compileCompare(p, schema.field(p.field), t, params);
    case "via":
      return compileVia(p, schema.relation(p.field), t, schema, params);
    default:
      return assertNever(p);
  }
}

function compileVia(p: Predicate & { kind: "via" }, field: RelationField, t: Physical, schema: Schema, params: Parameters): SQL {
  const target = field.options.target;
  const there = physical(schema, target);
  const inner = sql`SELECT ${there.id} FROM ${there.table} WHERE ${compile(p.of, target, schema, params)}`;
  if (pointsToSeveral(field)) return linkedIn(field, t, inner);
  const column = t.column(field.id);
  return p.orEmpty ? sql`(${column} IS NULL OR ${column} IN (${inner}))` : sql`${column} IN (${inner})`;
}

function linkedIn(field: Field, t: Physical, ids: SQL): SQL {
  const { from, to } = linkColumns(field);
  const link = sql.identifier(linkTableName(field));
  return sql`${t.id} IN (SELECT ${link}.${sql.identifier(from)} FROM ${link} WHERE ${link}.${sql.identifier(to)} IN (${ids}))`;
}

function compileCompare(p: Predicate & { kind: "compare" }, field: Field, t: Physical, params: Parameters): SQL {
  if (pointsToSeveral(field) || choosesSeveral(field)) return compileMany(p, field, t, params);
  if (holdsFiles(field) && p.operator === "contains") return namesHave(t.column(field.id), params.next());
  const c = t.key(field.id);
  switch (p.operator) {
    case "is":
      return sql`${c} = ${params.next()}`;
    case "is-not":
      return sql`${c} IS NOT ${params.next()}`;
    case "any-of":
      return sql`${c} IN ${params.list(p.values.length)}`;
    case "none-of":
      return sql`(${c} IN ${params.list(p.values.length)}) IS NOT TRUE`;
    case "contains":
      return sql`instr(${c}, ${params.next()}) > 0`;
    case "starts-with": {
      const [a, b] = [params.next(), params.next()];
      return sql`substr(${c}, 1, length(${a})) = ${b}`;
    }
    case "is-empty":
      return sql`${c} IS NULL`;
    case "is-not-empty":
      return sql`${c} IS NOT NULL`;
    case "less-than":
      return sql`${c} < ${params.next()}`;
    case "at-most":
      return sql`${c} <= ${params.next()}`;
    case "more-than":
      return sql`${c} > ${params.next()}`;
    case "at-least":
      return sql`${c} >= ${params.next()}`;
    case "between": {
      const [a, b] = [params.next(), params.next()];
      return sql`(${c} >= ${a} AND ${c} <= ${b})`;
    }
    default:
      throw new Error(`Operator ${p.operator} does not apply to ${field.type}; operatorsFor() offers none such.`);
  }
}

/** Looked for from the record on: what others hold is not read, so it tells nothing by its time either. */
const namesHave = (column: ReturnType<Physical["column"]>, words: SQL): SQL =>
  sql`EXISTS (SELECT 1 FROM json_each(${column}) held JOIN sys_files ON sys_files.id = held.value WHERE instr(sys_files.name_key, ${words}) > 0)`;

function compileMany(p: Predicate & { kind: "compare" }, field: Field, t: Physical, params: Parameters): SQL {
  const anyOf = (list: SQL): SQL =>
    pointsToSeveral(field)
      ? linkedIn(field, t, sql`SELECT value FROM (SELECT value FROM ${list})`)
      : sql`EXISTS (SELECT 1 FROM json_each(${t.column(field.id)}) WHERE value IN (SELECT value FROM ${list}))`;
  const json = (): SQL => sql`json_each(${params.next()})`;
  switch (p.operator) {
    case "has-any":
      return anyOf(json());
    case "has-none":
      return sql`(${anyOf(json())}) IS NOT TRUE`;
    case "has-all":
      return sql`(${sql.join(
        p.values.map(() => anyOf(json())),
        sql` AND `,
      )})`;
    case "is-empty":
      return sql`NOT ${someLinked(field, t)}`;
    case "is-not-empty":
      return someLinked(field, t);
    default:
      throw new Error(`Operator ${p.operator} does not apply to ${field.type}; operatorsFor() offers none such.`);
  }
}

function someLinked(field: Field, t: Physical): SQL {
  if (choosesSeveral(field)) return sql`(${t.column(field.id)} IS NOT NULL AND ${t.column(field.id)} <> '[]')`;
  const { from, to } = linkColumns(field);
  const link = sql.identifier(linkTableName(field));
  return sql`${t.id} IN (SELECT ${link}.${sql.identifier(from)} FROM ${link} WHERE ${link}.${sql.identifier(to)} IS NOT NULL)`;
}

const stored = (v: Scalar, field: Field): Scalar =>
  typeof v === "boolean" ? (v ? 1 : 0) : foldsCase(field.type) || holdsFiles(field) ? fold(String(v)) : v;

/** Scopes live as long as their policy, so the same predicate comes again and again: its shape is worked out once. */
const shapes = new WeakMap<Predicate, { schema: Schema; text: string; values: readonly Scalar[] }>();

/** The part of a predicate that makes another statement is returned as text; its values are pushed in the order of their parameters. */
export function shape(p: Predicate, schema: Schema, values: Scalar[]): string {
  let known = shapes.get(p);
  if (known?.schema !== schema) {
    const own: Scalar[] = [];
    shapes.set(p, (known = { schema, text: walk(p, schema, own), values: own }));
  }
  for (const v of known.values) values.push(v);
  return known.text;
}

function walk(p: Predicate, schema: Schema, values: Scalar[]): string {
  const pushList = (list: readonly Scalar[]): string => {
    if (list.length > INLINE_LIST) {
      values.push(JSON.stringify(list));
      return "*";
    }
    values.push(...list);
    return String(list.length);
  };
  switch (p.kind) {
    case "always":
      return "1";
    case "never":
      return "0";
    case "all":
    case "any": {
      let s = p.kind === "all" ? "&(" : "|(";
      for (const q of p.of) s += `${walk(q, schema, values)},`;
      return `${s})`;
    }
    case "not":
      return `!${walk(p.of, schema, values)}`;
    case "owned":
      values.push(p.company);
      return "own";
    case "among":
      return `id${pushList(p.ids)}`;
    case "via":
      return `${p.field}>${p.orEmpty ? "?" : ""}${walk(p.of, schema, values)}`;
    case "compare": {
      const field = schema.field(p.field);
      const wanted = p.values.map((v) => stored(v, field));
      const many = pointsToSeveral(field) || choosesSeveral(field);
      if (p.operator === "has-all") for (const v of wanted) values.push(JSON.stringify([v]));
      else if (many) {
        if (wanted.length > 0) values.push(JSON.stringify(wanted));
      } else if (p.operator === "any-of" || p.operator === "none-of") return `${p.field} ${p.operator} ${pushList(wanted)}`;
      else if (p.operator === "starts-with") values.push(wanted[0]!, wanted[0]!);
      else values.push(...wanted);
      return `${p.field} ${p.operator} ${many && p.operator !== "has-all" ? "" : wanted.length}`;
    }
    default:
      return assertNever(p);
  }
}
