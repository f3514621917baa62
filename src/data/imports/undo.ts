/** An import taken back as one act: what it added goes, what it changed is as it was, and what it made beside is gone where nobody uses it. */

import type { Owner } from "@/core/access/who/viewer";
import type { Definition } from "@/core/definition/definition";
import { actorOf, actorText } from "@/core/events/event";
import type { Result } from "@/core/result";
import { type Schema, type Table, targetOf } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { sqlName } from "@/core/text/sql-name";
import { published } from "../definition/published";
import { reshape } from "../definition/reshape";
import { record } from "../events/record";
import { attempt, refuse } from "../file/attempt";
import { FULL } from "../file/full";
import type { PortalFile } from "../file/open";
import { reached } from "../file/points";
import { hasAutomatic, remakeAutomatic } from "../records/write/automatic";
import { dropUnusedChoices } from "../schema/choices";
import { withoutField, withoutTable } from "../schema/references";
import { letGoOfAway } from "../tables/away";
import { storeCompanies } from "../tables/company";
import { dropField, dropTable } from "../tables/drop";
import { hasColumn, isFolded, keyName, linkTableName } from "../tables/physical";
import { schemaOf } from "../tables/read";
import { readRow } from "../tables/rows";
import { removeUnused } from "./unused";

/** What an import made beside its rows. */
export interface MadeBeside {
  /** The table, where it was new. */
  table: string | null;
  /** Fields of a table that was there, or that came with the access it began with. */
  fields: string[];
  companies: string[];
  records: { table: string; id: string }[];
  /** Choices added to fields that were there before; absent in imports of earlier versions. */
  choices?: { field: string; id: string }[];
  grants: string[];
  wall: boolean;
}

/** What taking it back would lose that the import did not bring. */
export interface Losses {
  /** Records of the import that somebody changed or removed since, by name. */
  readonly touched: number;
  /** Records that were made since and point to ones that it added. */
  readonly pointing: number;
  readonly names: readonly string[];
  /** People that it added and who have been in, or were invited. */
  readonly signedIn: number;
  /** Other records of a table that it made, or with a value in a field that it made. */
  readonly others: number;
}

export const nothingLost = (l: Losses): boolean => l.touched + l.pointing + l.signedIn + l.others === 0;

interface Done {
  readonly id: string;
  readonly table: Table;
  readonly made: MadeBeside;
  /** Fields that are of another type than when it noted what they held. */
  readonly retyped: readonly string[];
}

function doneImport(file: PortalFile, id: string): Done | undefined {
  const row = file.db.prepare("SELECT table_id AS t, made, retyped FROM sys_imports WHERE id = ? AND state = 'done'").get(id) as
    | { t: string; made: string | null; retyped: string }
    | undefined;
  const table = row?.made ? schemaOf(file).findTable(row.t) : undefined;
  return table && row?.made
    ? { id, table, made: JSON.parse(row.made) as MadeBeside, retyped: JSON.parse(row.retyped) as string[] }
    : undefined;
}

const one = (file: PortalFile, text: string, ...values: unknown[]): number =>
  file.db
    .prepare(text)
    .pluck()
    .get(...values) as number;

/** Somebody changed or removed it since, or what it held is of another type now. */
const TOUCHED = (d: Done): string =>
  `(t.id IS NULL OR t.version <> i.version${d.retyped.map((f) => ` OR (i.added = 0 AND json_type(i.before, '$.${f}') IS NOT NULL)`).join("")})`;

/** Rows of the import that are not as it left them, and those that others hang on. */
const HELD = (d: Done, schema: Schema): string => {
  const pointing = pointingSql(schema, d, "i.record_id");
  const people =
    d.table.kind === "people"
      ? " OR EXISTS (SELECT 1 FROM sys_credentials c WHERE c.person_id = i.record_id) OR EXISTS (SELECT 1 FROM sys_links k WHERE k.person_id = i.record_id)"
      : "";
  const companies =
    d.table.kind === "companies"
      ? " OR EXISTS (SELECT 1 FROM sys_memberships m WHERE m.company_id = i.record_id) OR EXISTS (SELECT 1 FROM sys_subscriptions s WHERE s.company_id = i.record_id)"
      : "";
  return `(${TOUCHED(d)} OR (i.added = 1 AND (${pointing}${people}${companies})))`;
};

/** Whether a record that is not of this import points there. */
function pointingSql(schema: Schema, d: Done, id: string): string {
  const own = `(SELECT record_id FROM sys_import_rows WHERE import_id = '${d.id}')`;
  const parts = schema.tables
    .flatMap((t) => t.fields)
    .filter((f) => targetOf(f) === d.table.id && f.id !== "f_person_companies" && !f.options.kept)
    .map((f) =>
      hasColumn(f)
        ? `EXISTS (SELECT 1 FROM ${sqlName(f.tableId)} p WHERE p.${sqlName(f.id)} = ${id} AND p.id NOT IN ${own})`
        : `EXISTS (SELECT 1 FROM ${sqlName(linkTableName(f))} p WHERE p.target_id = ${id} AND p.record_id NOT IN ${own})`,
    );
  return parts.length > 0 ? parts.join(" OR ") : "0";
}

function losses(file: PortalFile, d: Done): Losses {
  const schema = schemaOf(file);
  const from = `FROM sys_import_rows i LEFT JOIN ${sqlName(d.table.id)} t ON t.id = i.record_id WHERE i.import_id = ?`;
  const touched = one(file, `SELECT count(*) ${from} AND ${TOUCHED(d)}`, d.id);
  const pointing = one(
    file,
    `SELECT count(*) ${from} AND i.added = 1 AND t.id IS NOT NULL AND (${pointingSql(schema, d, "i.record_id")})`,
    d.id,
  );
  const held = `${from} AND ${HELD(d, schema)}`;
  const names = file.db
    .prepare(`SELECT coalesce(t.${sqlName(d.table.labelFieldId)}, 'a record that is removed') ${held} LIMIT 20`)
    .pluck()
    .all(d.id)
    .map(String);
  const signedIn =
    d.table.kind === "people"
      ? one(
          file,
          `SELECT count(*) ${from} AND i.added = 1 AND EXISTS (SELECT 1 FROM sys_credentials c WHERE c.person_id = i.record_id)`,
          d.id,
        )
      : 0;
  const foreign = `t.id NOT IN (SELECT record_id FROM sys_import_rows WHERE import_id = '${d.id}')`;
  const others = d.made.table
    ? one(file, `SELECT count(*) FROM ${sqlName(d.table.id)} t WHERE ${foreign}`)
    : d.made.fields
        .map((f) => schema.findField(f))
        .filter((f) => f && hasColumn(f) && !f.options.kept)
        .reduce(
          (n, f) => n + one(file, `SELECT count(*) FROM ${sqlName(d.table.id)} t WHERE ${sqlName(f!.id)} IS NOT NULL AND ${foreign}`),
          0,
        );
  return { touched, pointing, names, signedIn, others };
}

/** What would be lost; undefined where the import cannot be taken back any more. */
export function undoLosses(file: PortalFile, _owner: Owner, id: string): Losses | undefined {
  const done = doneImport(file, id);
  return done && losses(file, done);
}

/** With `leave`, records that somebody has touched since stay as they are; without it, one such record refuses the whole. */
export function undoImport(
  file: PortalFile,
  owner: Owner,
  id: string,
  leave: boolean,
): Result<{ removed: number; restored: number; left: number }, string> {
  const work = () => {
    const done = doneImport(file, id);
    if (!done) return refuse("This import cannot be taken back any more: it is not in, it is over 90 days old, or its table is gone.");
    const lost = losses(file, done);
    if (!leave && !nothingLost(lost)) return refuse("Something of this import was changed since. Look at what would be lost, then decide.");
    const result = takeBack(file, owner, done, lost);
    reached("undo: rows are back");
    return result;
  };
  return attempt(file, work, { full: FULL });
}

function takeBack(file: PortalFile, owner: Owner, done: Done, lost: Losses): { removed: number; restored: number; left: number } {
  const { db } = file;
  const schema = schemaOf(file);
  const { table, id } = done;
  db.exec(
    "DROP TABLE IF EXISTS temp.undone; CREATE TEMP TABLE undone (record_id TEXT PRIMARY KEY, added INTEGER, before TEXT) WITHOUT ROWID",
  );
  const untouched = `SELECT i.record_id, i.added, i.before FROM sys_import_rows i JOIN ${sqlName(table.id)} t ON t.id = i.record_id WHERE i.import_id = ? AND NOT ${HELD(done, schema)}`;
  db.prepare(`INSERT INTO temp.undone ${untouched}`).run(id);
  const restored = restoreValues(file, owner, table);
  const removed = removeAdded(file, schema, table);
  reached("undo: rows are removed");
  const left = one(file, "SELECT count(*) FROM sys_import_rows WHERE import_id = ?", id) - removed - restored;
  db.prepare("DELETE FROM sys_import_rows WHERE import_id = ? AND record_id IN (SELECT record_id FROM temp.undone)").run(id);
  removeBeside(file, owner, done, lost);
  if (left === 0) db.prepare("UPDATE sys_imports SET state = 'given up', message = 'taken back' WHERE id = ?").run(id);
  db.exec("DROP TABLE temp.undone");
  const policy = published(file).policy;
  for (const t of policy.schema.tables) storeCompanies(file, policy, t.id);
  record(file, {
    actor: actorOf(owner),
    via: "page",
    at: owner.now,
    kind: "import-undone",
    table: table.id,
    detail: `${removed} removed, ${restored} as before`,
  });
  return { removed, restored, left };
}

function restoreValues(file: PortalFile, owner: Owner, table: Table): number {
  const { db } = file;
  const by = [new Date(owner.now).toISOString(), actorText(actorOf(owner))];
  const n = one(file, "SELECT count(*) FROM temp.undone WHERE added = 0");
  if (n === 0) return 0;
  const ids = db.prepare("SELECT record_id FROM temp.undone WHERE added = 0").pluck().all() as string[];
  const prior = hasAutomatic(table) ? ids.map((id) => readRow(file, schemaOf(file), table, id)!) : [];
  for (const f of table.fields) {
    const path = `'$.${f.id}'`;
    const has = `json_type(u.before, ${path}) IS NOT NULL`;
    if (hasColumn(f) && !f.options.kept && !f.system) {
      db.exec(
        `UPDATE ${sqlName(table.id)} AS t SET ${sqlName(f.id)} = json_extract(u.before, ${path}) FROM temp.undone u WHERE u.record_id = t.id AND u.added = 0 AND ${has}`,
      );
      if (isFolded(f)) refold(file, table, f.id);
    } else if (!hasColumn(f) && f.id !== "f_person_companies") {
      const link = linkTableName(f);
      const ids = `SELECT record_id FROM temp.undone u WHERE u.added = 0 AND ${has}`;
      db.exec(`DELETE FROM ${sqlName(link)} WHERE record_id IN (${ids});
        INSERT OR IGNORE INTO ${sqlName(link)} SELECT u.record_id, j.value FROM temp.undone u, json_each(json_extract(u.before, ${path})) j WHERE u.added = 0 AND ${has}`);
    } else if (f.id === "f_person_companies")
      db.exec(`DELETE FROM sys_memberships WHERE (person_id, company_id) IN (SELECT m.person_id, m.company_id FROM sys_memberships m JOIN temp.undone u ON u.record_id = m.person_id
        WHERE u.added = 0 AND m.company_id IS NOT NULL AND ${has.replace("IS NOT NULL", "= 'array'")} AND m.company_id NOT IN (SELECT value FROM json_each(json_extract(u.before, ${path}))))`);
  }
  db.prepare(
    `UPDATE ${sqlName(table.id)} SET version = version + 1, changed_at = ?, changed_by = ? WHERE id IN (SELECT record_id FROM temp.undone WHERE added = 0)`,
  ).run(...by);
  remakeAutomatic({ file, policy: published(file).policy, viewer: owner }, table, prior, { at: by[0]!, by: by[1]! });
  return n;
}

/** Folding is JavaScript's: see \`core/text/fold\`. */
function refold(file: PortalFile, table: Table, field: string): void {
  const rows = file.db
    .prepare(`SELECT t.id, t.${sqlName(field)} FROM ${sqlName(table.id)} t JOIN temp.undone u ON u.record_id = t.id WHERE u.added = 0`)
    .raw()
    .all() as [string, string | null][];
  const put = file.db.prepare(`UPDATE ${sqlName(table.id)} SET ${sqlName(keyName(field))} = ? WHERE id = ?`);
  for (const [id, v] of rows) put.run(v === null ? null : fold(v), id);
}

function removeAdded(file: PortalFile, schema: Schema, table: Table): number {
  const { db } = file;
  const gone = "SELECT record_id FROM temp.undone WHERE added = 1";
  for (const f of schema.tables.flatMap((t) => t.fields)) {
    if (targetOf(f) !== table.id || f.options.kept) continue;
    // Records of the import may point to each other.
    if (hasColumn(f)) db.exec(`UPDATE ${sqlName(f.tableId)} SET ${sqlName(f.id)} = NULL WHERE ${sqlName(f.id)} IN (${gone})`);
    else if (f.id !== "f_person_companies") db.exec(`DELETE FROM ${sqlName(linkTableName(f))} WHERE target_id IN (${gone})`);
  }
  for (const f of table.fields)
    if (!hasColumn(f) && f.id !== "f_person_companies") db.exec(`DELETE FROM ${sqlName(linkTableName(f))} WHERE record_id IN (${gone})`);
  letGoOfAway(file, table.id, gone);
  if (table.kind === "people") db.exec(`DELETE FROM sys_memberships WHERE person_id IN (${gone})`);
  return db.prepare(`DELETE FROM ${sqlName(table.id)} WHERE id IN (${gone})`).run().changes;
}

/** Table, fields, companies and records that came with it, as far as nobody has put anything into them since. */
function removeBeside(file: PortalFile, owner: Owner, { table, made }: Done, lost: Losses): void {
  const schema = schemaOf(file);
  for (const r of [...made.records, ...made.companies.map((id) => ({ table: "t_companies", id }))])
    removeUnused(file, schema, r.table, r.id);
  for (const id of new Set((made.choices ?? []).map((c) => c.field))) {
    const field = schema.findField(id);
    const grown = made.choices!.filter((c) => c.field === id).map((c) => c.id);
    if (field?.options.choices) dropUnusedChoices(file, owner, field, grown);
  }
  const empty = one(file, `SELECT count(*) FROM ${sqlName(table.id)}`) === 0;
  let edit: ((d: Definition) => Definition) | null = null;
  if (made.table && empty) {
    dropTable(file, made.table);
    edit = (d) => withoutTable(d, made.table!);
  } else if (!made.table && lost.others === 0) {
    const fields = made.fields.filter((f) => schema.findField(f));
    for (const f of fields)
      if (one(file, `SELECT count(*) FROM ${sqlName(table.id)} WHERE ${sqlName(f)} IS NOT NULL`) === 0) dropField(file, f);
    const left = schemaOf(file);
    const dropped = fields.filter((f) => !left.findField(f));
    if (dropped.length > 0) edit = (d) => dropped.reduce((x, f) => withoutField(x, f), d);
  }
  if (!edit) return;
  const followed = reshape(file, owner, edit, "An import was taken back");
  if (!followed.ok) refuse(`It cannot be taken back while the rules speak of what it made: ${followed.error.join(" ")}`);
}
