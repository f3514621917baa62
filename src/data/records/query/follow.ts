/** Indexes that follow from use: of a large table, what is sorted by or searched is indexed once somebody has asked for it. */

import { sql } from "drizzle-orm";
import { pointsToOne } from "@/core/schema/fields/natures";
import { kindOf } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import type { Access } from "../../access";
import type { PortalFile } from "../../file/open";
import { portalFile } from "../../file/open";
import { isBusy } from "../../file/when-free";
import { enqueue } from "../../jobs/queue";
import { hasColumn, isFolded, keyName } from "../../tables/physical";
import { schemaOf } from "../../tables/read";
import { task } from "../../threads";
import { indexWords, isIndexed, isStale, seesAll } from "./search-index";

export const INDEX = "index";
/** Smaller tables are read faster than anybody notices. */
const LARGE = 5_000;
/** Milliseconds: no oftener is the same thing asked for. */
const SELDOM = 60_000;
/** More sorted columns than these of one table would cost each write more than they spare. */
const MOST_SORTED = 8;

/** What is to be indexed: the words of a table, or one of its fields in order. */
export interface Wish {
  readonly table: string;
  readonly field: string | null;
}

const wished = new WeakMap<PortalFile, Map<string, number>>();

/** `needed` is looked at as seldom as the wish is made: mostly what is used is indexed already. */
function wish({ file, viewer }: Access, w: Wish, needed: () => boolean): void {
  const before = wished.get(file) ?? wished.set(file, new Map()).get(file)!;
  const key = `${w.table} ${w.field ?? ""}`;
  if (viewer.now - (before.get(key) ?? Number.NEGATIVE_INFINITY) < SELDOM) return;
  before.set(key, viewer.now);
  if (!needed()) return;
  try {
    enqueue(file, INDEX, w, viewer.now, { id: `${INDEX} ${key} ${Math.floor(viewer.now / SELDOM)}` });
  } catch (e) {
    if (!isBusy(e)) throw e; // the next to ask asks again
  }
}

const isLarge = (file: PortalFile, table: string): boolean =>
  Number(file.statements.row(`size ${table}`, () => sql`SELECT max(rowid) FROM ${sql.identifier(table)}`, [])?.[0] ?? 0) > LARGE;

const sortIndex = (table: string, field: string): string => `ix_${table}_sort_${field}`;
const indexNames = (file: PortalFile, beginning: string): string[] =>
  file.db
    .prepare("SELECT name FROM sqlite_master WHERE type = 'index' AND substr(name, 1, ?) = ?")
    .pluck()
    .all(beginning.length, beginning) as string[];

function mayIndex(file: PortalFile, table: string, field: string): boolean {
  const there = indexNames(file, sortIndex(table, ""));
  return there.length < MOST_SORTED && !there.includes(sortIndex(table, field));
}

/** After a list of a large table was read for somebody who sees all companies': what would have made it faster. */
export function follow(
  d: Access,
  table: string,
  q: { readonly search?: string; readonly sort?: readonly { readonly field: string }[] },
): void {
  const { file, policy, viewer } = d;
  if (!(q.search?.trim() || q.sort?.length) || file.readOnly || !seesAll(viewer) || !isLarge(file, table)) return;
  const { schema } = policy;
  if (q.search?.trim()) {
    for (const t of [table, ...schema.table(table).fields.flatMap((f) => (pointsToOne(f) ? [f.options.target] : []))])
      if (isLarge(file, t)) wish(d, { table: t, field: null }, () => !isIndexed(file, schema, t) || isStale(file, t));
  }
  const field = q.sort?.[0] && schema.field(q.sort[0].field);
  if (field && hasColumn(field) && kindOf(field).sortable && field.id !== schema.table(table).labelFieldId)
    wish(d, { table, field: field.id }, () => mayIndex(file, table, field.id));
}

/** The work, on a handle of its own. */
export function grant(file: PortalFile, { table, field }: Wish): void {
  const schema = schemaOf(file);
  if (!schema.findTable(table)) return; // gone meanwhile
  if (field === null) {
    indexWords(file, schema, table);
    return;
  }
  const found = schema.findField(field);
  if (!found || !mayIndex(file, table, field)) return;
  const column = isFolded(found) ? keyName(field) : field;
  file.db.exec(`CREATE INDEX IF NOT EXISTS ${sqlName(sortIndex(table, field))} ON ${sqlName(table)} (${sqlName(column)}, id)`);
}

export const indexTask = task("index a table", ({ portal, wish: w }: { portal: string; wish: Wish }) => {
  const file = portalFile(portal);
  if (file) grant(file, w);
});
