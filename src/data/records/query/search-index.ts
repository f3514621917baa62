/**
 * The words of a large table, indexed by SQLite's FTS5 in pieces of three letters: whoever sees all companies' records finds a part of
 * a word without every record being read. Made by a thread once somebody searches there; what is written afterwards is noted by triggers
 * and indexed later, so that a write stays as cheap as it was. The index only narrows: what is found is tested as ever.
 */

import { type SQL, sql } from "drizzle-orm";
import { knownFields } from "@/core/access/scope";
import { sideOf, type Viewer } from "@/core/access/who/viewer";
import { holdsFiles, pointsToOne } from "@/core/schema/fields/natures";
import { type Field, kindOf, type Schema } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { sqlName } from "@/core/text/sql-name";
import type { Access } from "../../access";
import type { PortalFile } from "../../file/open";
import { transact } from "../../file/transact";
import { isFolded, keyName } from "../../tables/physical";
import type { Parameters } from "./compile";

/** Rows of one transaction: others write in between. */
const PIECE = 2_000;
/** Letters that FTS5's trigram tokenizer needs to look anything up. */
const LEAST_LETTERS = 3;

const wordsOf = (table: string): string => `words_${table}`;
const unindexedOf = (table: string): string => `unindexed_${table}`;

/** Columns that are indexed: every text of the table, in its order. */
const columnsOf = (schema: Schema, table: string): string[] =>
  schema
    .table(table)
    .fields.filter((f) => isFolded(f) && kindOf(f).search && !f.options.offSearch)
    .map((f) => keyName(f.id));

/** Whether the index is whole and of the fields that there are. */
export const isIndexed = (file: PortalFile, schema: Schema, table: string): boolean =>
  file.statements.row("search index", () => sql`SELECT columns FROM sys_search WHERE table_id = ${sql.placeholder("p0")}`, [table])?.[0] ===
  columnsOf(schema, table).join();

const unindexed = (file: PortalFile, table: string): number =>
  file.db
    .prepare(`SELECT count(*) FROM (SELECT 1 FROM ${sqlName(unindexedOf(table))} LIMIT ${PIECE})`)
    .pluck()
    .get() as number;

/** Whether enough has been written since that it is worth to index it. */
export const isStale = (file: PortalFile, table: string): boolean => unindexed(file, table) >= PIECE;

/** Makes the index, or brings it up to date, in short transactions. `told` hears of rows. */
export function indexWords(file: PortalFile, schema: Schema, table: string, told: (rows: number) => void = () => {}): void {
  const columns = columnsOf(schema, table);
  if (columns.length === 0) return;
  if (!isIndexed(file, schema, table)) {
    begin(file, table, columns);
    let rows = 0;
    for (let from = 0; ; ) {
      const last = transact(file, () => indexPiece(file, table, columns, from));
      if (last === null) break;
      from = last;
      told((rows += PIECE));
    }
    file.db
      .prepare("INSERT INTO sys_search (table_id, columns) VALUES (?, ?) ON CONFLICT (table_id) DO UPDATE SET columns = excluded.columns")
      .run(table, columns.join());
  }
  while (unindexed(file, table) > 0) transact(file, () => indexWritten(file, table, columns));
}

function begin(file: PortalFile, table: string, columns: readonly string[]): void {
  const [words, rest] = [sqlName(wordsOf(table)), sqlName(unindexedOf(table))];
  const trigger = (on: string): string => sqlName(`${unindexedOf(table)}_${on}`);
  const note = (row: string): string => `INSERT OR IGNORE INTO ${rest} VALUES (${row}.rowid);`;
  transact(file, () =>
    file.db.exec(`
      DELETE FROM sys_search WHERE table_id = '${table}';
      DROP TABLE IF EXISTS ${words};
      DROP TABLE IF EXISTS ${rest};
      ${["add", "change", "remove"].map((on) => `DROP TRIGGER IF EXISTS ${trigger(on)};`).join("\n")}
      CREATE VIRTUAL TABLE ${words} USING fts5(${columns.map(sqlName).join(", ")}, content='', contentless_delete=1, detail='full', tokenize='trigram case_sensitive 1');
      CREATE TABLE ${rest} ("row" INTEGER PRIMARY KEY) STRICT;
      CREATE TRIGGER ${trigger("add")} AFTER INSERT ON ${sqlName(table)} BEGIN ${note("new")} END;
      CREATE TRIGGER ${trigger("change")} AFTER UPDATE OF ${columns.map(sqlName).join(", ")} ON ${sqlName(table)} BEGIN ${note("new")} END;
      CREATE TRIGGER ${trigger("remove")} AFTER DELETE ON ${sqlName(table)} BEGIN ${note("old")} END;`),
  );
}

function indexPiece(file: PortalFile, table: string, columns: readonly string[], after: number): number | null {
  const last = file.db
    .prepare(`SELECT max(r) FROM (SELECT rowid AS r FROM ${sqlName(table)} WHERE rowid > ? ORDER BY rowid LIMIT ${PIECE})`)
    .pluck()
    .get(after) as number | null;
  if (last === null) return null;
  const names = columns.map(sqlName).join(", ");
  // What has been written since the beginning is noted, and comes at the end.
  file.db
    .prepare(
      `INSERT INTO ${sqlName(wordsOf(table))} (rowid, ${names}) SELECT rowid, ${names} FROM ${sqlName(table)}
       WHERE rowid > ? AND rowid <= ? AND rowid NOT IN (SELECT "row" FROM ${sqlName(unindexedOf(table))})`,
    )
    .run(after, last);
  return last;
}

function indexWritten(file: PortalFile, table: string, columns: readonly string[]): void {
  const [words, rest, names] = [sqlName(wordsOf(table)), sqlName(unindexedOf(table)), columns.map(sqlName).join(", ")];
  const rows = file.db.prepare(`SELECT "row" FROM ${rest} ORDER BY "row" LIMIT ${PIECE}`).pluck().all() as number[];
  const list = JSON.stringify(rows);
  const some = "(SELECT value FROM json_each(?))";
  file.db.prepare(`DELETE FROM ${words} WHERE rowid IN ${some}`).run(list);
  file.db.prepare(`INSERT INTO ${words} (rowid, ${names}) SELECT rowid, ${names} FROM ${sqlName(table)} WHERE rowid IN ${some}`).run(list);
  file.db.prepare(`DELETE FROM ${rest} WHERE "row" IN ${some}`).run(list);
}

/** A condition that every record meets which the search may find; its values go where its SQL stands. */
export interface Hint {
  readonly shape: string;
  readonly values: readonly string[];
  build(params: Parameters): SQL;
}

/** Clients have a company's records to look through, and an index over all companies' would tell them of others by its time. */
export const seesAll = (viewer: Viewer): boolean => sideOf(viewer) === "owner" || sideOf(viewer) === "agency";

/** Null where the index is not there or cannot say: then all records are read. */
export function searchHint({ file, policy, viewer }: Access, table: string, search: string): Hint | null {
  const words = fold(search);
  const { schema } = policy;
  if (!seesAll(viewer) || [...words].length < LEAST_LETTERS || !isIndexed(file, schema, table)) return null;
  const known = new Set(knownFields(policy, viewer, table));
  const fields = schema.table(table).fields.filter((f) => known.has(f.id) && !f.options.offSearch);
  // Choices are few and match very many records or none.
  if (fields.some((f) => !isFolded(f) && !holdsFiles(f) && kindOf(f).search?.(search, f as never))) return null;
  const labels = fields.flatMap((f) => labelOf(schema, f) ?? []);
  const indexed = labels.map((l) => isIndexed(file, schema, l.table));
  const phrase = `"${words.replaceAll('"', '""')}"`;
  const own = sql.identifier(table);
  const files = fields.filter(holdsFiles).map((f) => f.id);
  return {
    shape: `~${fields.map((f) => f.id).join()}~${indexed.map(Number).join("")}`,
    values: [phrase, ...files.flatMap((f) => [f, words]), ...labels.flatMap((_, i) => (indexed[i] ? [phrase, words] : [words]))],
    build: (params) => {
      const parts = [candidates(table, params.next())];
      for (const _ of files) {
        const [field, name] = [params.next(), params.next()];
        parts.push(
          sql`SELECT ${own}.rowid FROM ${own} WHERE ${own}.id IN (SELECT record_id FROM sys_files WHERE field_id = ${field} AND instr(name_key, ${name}) > 0)`,
        );
      }
      for (const [i, l] of labels.entries()) {
        const target = sql.identifier(l.table);
        const narrowed = indexed[i] ? sql`${target}.rowid IN (${candidates(l.table, params.next())}) AND ` : sql``;
        const named = sql`SELECT ${target}.id FROM ${target} WHERE ${narrowed}instr(${target}.${sql.identifier(l.key)}, ${params.next()}) > 0`;
        parts.push(sql`SELECT ${own}.rowid FROM ${own} WHERE ${own}.${sql.identifier(l.field)} IN (${named})`);
      }
      return sql`${own}.rowid IN (${sql.join(parts, sql` UNION `)})`;
    },
  };
}

/** Rows whose text has the words, and those that were written since the index was. */
function candidates(table: string, phrase: SQL): SQL {
  const [words, rest] = [sql.identifier(wordsOf(table)), sql.identifier(unindexedOf(table))];
  return sql`SELECT rowid FROM ${words} WHERE ${words} MATCH ${phrase} UNION SELECT ${sql.identifier("row")} FROM ${rest}`;
}

/** The name that a relation is found by. */
function labelOf(schema: Schema, f: Field): { field: string; table: string; key: string } | null {
  if (!pointsToOne(f)) return null;
  const label = schema.field(schema.table(f.options.target).labelFieldId);
  return isFolded(label) ? { field: f.id, table: label.tableId, key: keyName(label.id) } : null;
}
