/** What became of each row that an import brought in, and of records that the same reading of another system removed. Those that were the same are only counted. */
import type { Owner } from "@/core/access/who/viewer";
import type { Field, Table, Value, Values } from "@/core/schema/types";
import type { PortalFile } from "../file/open";
import { decodeValue, hasColumn } from "../tables/physical";
import { schemaOf } from "../tables/read";
import { readRow, readSome } from "../tables/rows";
import { badRows } from "./checking/stage";

export interface Fate {
  readonly record: string;
  readonly became: "added" | "changed" | "removed";
  /** Values that it held before and does not hold now; it may have been changed since. */
  readonly changes: readonly { readonly field: Field; readonly before: Value; readonly now: Value }[];
  /** Whether the record is there now. */
  readonly isThere: boolean;
}

export interface Problem {
  readonly line: number;
  readonly column: string;
  readonly reason: string;
}

export interface Fates {
  readonly list: readonly Fate[];
  readonly total: number;
  readonly page: number;
  readonly pages: number;
  /** The first of them; the file that can be had holds all. */
  readonly problems: readonly Problem[];
}

/** A reading of another system; an import by hand removes nothing. Moments in milliseconds. */
export interface ReadOnce {
  readonly importId: string | null;
  readonly at: number;
  readonly endedAt: number | null;
  readonly bad: number;
  readonly removed: number;
}

export const FATES_A_PAGE = 50;
const MOST_PROBLEMS = 50;

type Row = { record: string; became: Fate["became"]; before: string | null };

/** Added and changed ones as the import has them, removed ones by their events: all that the reading did to this table. */
const ROWS = `SELECT record_id AS record, iif(added = 1, 'added', 'changed') AS became, "before" FROM sys_import_rows WHERE import_id = @import
  UNION ALL SELECT record_id, 'removed', NULL FROM sys_events
  WHERE table_id = @table AND act = 'record-removed' AND via = 'source' AND at BETWEEN @from AND @to AND @removed > 0`;

/** `asked` is the number of a page, as an address has it. */
export function fatesOf(file: PortalFile, _owner: Owner, tableId: string | null, run: ReadOnce, asked: string | undefined): Fates {
  const given = { import: run.importId, table: tableId, from: run.at, to: run.endedAt ?? run.at, removed: run.removed };
  const total = file.db.prepare(`SELECT count(*) FROM (${ROWS})`).pluck().get(given) as number;
  const pages = Math.max(1, Math.ceil(total / FATES_A_PAGE));
  const page = Math.min(pages, Math.max(1, Number.parseInt(asked ?? "1", 10) || 1));
  const table = tableId === null ? undefined : schemaOf(file).findTable(tableId);
  const rows = file.db
    .prepare(`SELECT * FROM (${ROWS}) ORDER BY became = 'added', record LIMIT ${FATES_A_PAGE} OFFSET @skip`)
    .all({ ...given, skip: (page - 1) * FATES_A_PAGE }) as Row[];
  return { list: table ? rows.map((r) => fateOf(file, table, r)) : [], total, page, pages, problems: problemsOf(run) };
}

function fateOf(file: PortalFile, table: Table, r: Row): Fate {
  const now = readRow(file, schemaOf(file), table, r.record);
  const before = r.before === null || !now ? {} : (JSON.parse(r.before) as Record<string, unknown>);
  const changes = Object.entries(before).flatMap(([id, stored]) => {
    const field = table.fields.find((f) => f.id === id);
    if (!field) return [];
    const was = hasColumn(field) ? decodeValue(field, stored) : (stored as Value);
    const is = now!.values[id] ?? null;
    return JSON.stringify(was ?? null) === JSON.stringify(is) ? [] : [{ field, before: was, now: is }];
  });
  return { record: r.record, became: r.became, changes, isThere: now !== undefined };
}

function problemsOf(run: ReadOnce): Problem[] {
  const found: Problem[] = [];
  if (run.bad === 0 || run.importId === null) return found;
  for (const { line, column, reason } of badRows(run.importId)) {
    if (found.push({ line, column, reason }) === MOST_PROBLEMS) break;
  }
  return found;
}

export interface Imported {
  readonly record: string;
  readonly added: boolean;
  /** Of the fields that were asked for: all of an added one, and those of a changed one that the import wrote. */
  readonly now: Values;
}

/** Rows of an import as they are now, for what hears of it in its own transaction. */
export function importedRows(file: PortalFile, importId: string, table: Table, fields: readonly string[]): Imported[] {
  const rows = file.db.prepare('SELECT record_id AS record, added, "before" FROM sys_import_rows WHERE import_id = ?').all(importId) as {
    record: string;
    added: number;
    before: string | null;
  }[];
  return rows.map(({ record, added, before }) => {
    const was = before === null ? {} : (JSON.parse(before) as Record<string, unknown>);
    const values = readSome(file, schemaOf(file), table, record, [...fields])?.values ?? {};
    const now = added === 1 ? values : Object.fromEntries(Object.entries(values).filter(([f]) => f in was));
    return { record, added: added === 1, now };
  });
}
