/** How many records tables have, whoever asks: for figures of the agency and sizes, never for what a client reads. */
import { sql } from "drizzle-orm";
import { lastEvent } from "../events/record";
import type { PortalFile } from "../file/open";

/** All records of a table, whoever sees them. */
export const countOf = (file: PortalFile, table: string): number =>
  file.orm.get<{ n: number }>(sql`SELECT count(*) AS n FROM ${sql.identifier(table)}`).n;

const kept = new WeakMap<PortalFile, { event: number; counts: Map<string, number> }>();

/**
 * The same of several tables in one statement, counted again only when something has happened since: whatever adds or removes a record is
 * recorded as an event in the same transaction. Not for use within one, where what is undone gives its event's number back.
 */
export function countsOf(file: PortalFile, tables: readonly string[]): ReadonlyMap<string, number> {
  const event = file.db.inTransaction ? -1 : lastEvent(file);
  let known = kept.get(file);
  if (!known || event < 0 || known.event !== event) kept.set(file, (known = { event, counts: new Map() }));
  const { counts } = known;
  const missing = tables.filter((t) => !counts.has(t));
  if (missing.length === 0) return counts;
  const each = missing.map((t) => sql`(SELECT count(*) FROM ${sql.identifier(t)})`);
  const [row] = file.orm.values(sql`SELECT ${sql.join(each, sql`, `)}`) as number[][];
  for (const [i, t] of missing.entries()) counts.set(t, row![i]!);
  return counts;
}
