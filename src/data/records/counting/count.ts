/** How many records a viewer sees of a table, and how many of them are asked for. */
import { type SQL, sql } from "drizzle-orm";
import type { Policy } from "@/core/access/policy";
import type { Predicate } from "@/core/access/predicate";
import { scope } from "@/core/access/scope";
import type { Scalar } from "@/core/schema/types";
import type { Access } from "../../access";
import { lastEvent } from "../../events/record";
import type { PortalFile } from "../../file/open";
import { physical } from "../../tables/physical";
import { compile, Parameters, shape } from "../query/compile";
import { type Hint, searchHint, seesAll } from "../query/search-index";
import { type ListQuery, wherePredicate } from "../query/where";
import { countWhere } from "./count-many";

type Query = Omit<ListQuery, "limit">;

/** Under what a count stands for the rest of its request; null where it may differ when it is asked for again. */
const keyOf = (d: Access, table: string, q: Query): string | null =>
  !d.counted || q.within || d.file.db.inTransaction
    ? null
    : JSON.stringify([table, q.condition ?? null, q.search?.trim() ?? "", q.forExport ?? false]);

/** What this request has counted already. */
export function knownCount(d: Access, table: string, q: Query): number | undefined {
  const key = keyOf(d, table, q);
  return key === null ? undefined : d.counted?.get(key);
}

/** Keeps what another statement has counted on its way. */
export function noteCount(d: Access, table: string, q: Query, n: number): void {
  const key = keyOf(d, table, q);
  if (key !== null) d.counted?.set(key, n);
}

/** Rows that the viewer sees and that the query asks for: never more. Two parts of a page that count the same have it counted once. */
export function countRecords(d: Access, table: string, q: Query = {}): number {
  const known = knownCount(d, table, q);
  if (known !== undefined) return known;
  const n = counted(d, table, q);
  noteCount(d, table, q, n);
  return n;
}

function counted(d: Access, table: string, q: Query): number {
  const { file, policy, viewer } = d;
  const asked = q.condition || q.search || q.forExport || q.within;
  const where = asked ? wherePredicate(policy, viewer, table, q) : scope(policy, viewer, table).predicate;
  const hint = q.search?.trim() && where.kind !== "never" ? searchHint(d, table, q.search.trim()) : null;
  if (hint) return countHinted(d, table, where, hint);
  return asked || !seesAll(viewer) ? countWhere(file, policy.schema, table, where) : countAll(file, policy, table, where);
}

/** A count of very many, which takes milliseconds. */
const MANY = 5_000;

/**
 * All that a viewer sees of a table is counted again only when something has happened since: whatever changes a record is recorded as an
 * event in the same transaction. Not within one: what is undone gives its event's number back.
 */
function countAll(file: PortalFile, policy: Policy, table: string, where: Predicate): number {
  const known = file.statements.of(where, `counted ${table}`, () => ({ event: -1, n: 0 }));
  if (file.db.inTransaction || (known.event >= 0 && known.n < MANY)) return countWhere(file, policy.schema, table, where);
  const event = lastEvent(file);
  if (known.event === event) return known.n;
  known.n = countWhere(file, policy.schema, table, where);
  known.event = event;
  return known.n;
}

function countHinted({ file, policy }: Access, table: string, where: Predicate, hint: Hint): number {
  const values: Scalar[] = [...hint.values];
  const key = `count ${table} ${hint.shape} ${shape(where, policy.schema, values)}`;
  const build = (): SQL => {
    const params = new Parameters();
    const narrowed = hint.build(params);
    return sql`SELECT count(*) FROM ${physical(policy.schema, table).table} WHERE ${narrowed} AND ${compile(where, table, policy.schema, params)}`;
  };
  return Number(file.statements.row(key, build, values)![0]);
}
