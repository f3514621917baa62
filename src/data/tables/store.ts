/** Inserts and updates of whole rows, with folded keys and links. The deciding is done before; see `write.ts`. */

import type { Field, Schema, Table, Value } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../file/open";
import { placed } from "../file/text";
import { hasColumn, isFolded, isWritten, keyName, linkTableName } from "./physical";

/** By whom and when, as the row says it. */
export interface Made {
  readonly by: string;
  readonly at: string;
}

/** A value as it is stored. */
export function storedValue(v: Value | undefined): string | number | null {
  if (v === null || v === undefined || v === "") return null;
  if (typeof v === "boolean") return v ? 1 : 0;
  if (Array.isArray(v)) return v.length === 0 ? null : JSON.stringify(v);
  return v as string | number;
}

/** Column names of an insert, ids first; the same order as `insertValues`. */
export function insertColumns(table: Table): string[] {
  const own = table.fields.filter(isWritten).flatMap((f) => (isFolded(f) ? [f.id, keyName(f.id)] : [f.id]));
  return ["id", "created_at", "created_by", "changed_at", "changed_by", "company_id", ...own];
}

/** Values of an insert in the order of `insertColumns`; what is not given is null. `at` as ISO 8601. */
export function insertValues(
  table: Table,
  id: string,
  values: Readonly<Record<string, Value | undefined>>,
  by: string,
  at: string,
  company: string | null = null,
): (string | number | null)[] {
  const out: (string | number | null)[] = [id, at, by, at, by, company];
  for (const f of table.fields) {
    if (!isWritten(f)) continue;
    const v = storedValue(values[f.id]);
    out.push(v);
    if (isFolded(f)) out.push(v === null ? null : fold(String(v)));
  }
  return out;
}

const inserts = new WeakMap<Table, string>();

/** Put together once for a table as it is shaped: for many records it would be a good part of the cost of each. */
export function insertText(table: Table): string {
  const known = inserts.get(table);
  if (known) return known;
  const columns = insertColumns(table);
  const text = `INSERT INTO ${sqlName(table.id)} (${columns.map(sqlName).join(", ")}) VALUES (${columns.map(() => "?").join(", ")})`;
  inserts.set(table, text);
  return text;
}

/** Within a transaction; decides nothing and records nothing. `company` is whose the record is, where that is known already. */
export function insertRow(
  file: PortalFile,
  table: Table,
  id: string,
  values: Readonly<Record<string, Value | undefined>>,
  { by, at }: Made,
  company: string | null = null,
): void {
  const text = insertText(table);
  file.statements.run(text, () => placed(text), insertValues(table, id, values, by, at, company));
  for (const f of table.fields) if (!hasColumn(f) && !f.system) addLinks(file, f, id, (values[f.id] as string[] | undefined) ?? []);
}

/** Columns of an update by field, ids first; the same order as `updateValues`. Fields without a column have none. */
export function updateColumns(schema: Schema, fields: readonly string[]): string[] {
  const own = fields.map((id) => schema.field(id)).filter(hasColumn);
  return ["changed_at", "changed_by", ...own.flatMap((f) => (isFolded(f) ? [f.id, keyName(f.id)] : [f.id]))];
}

/** Values of an update in the order of its columns: when and by whom, then each field that changes. */
export function updateValues(schema: Schema, changes: Readonly<Record<string, Value>>, { by, at }: Made): (string | number | null)[] {
  const out: (string | number | null)[] = [at, by];
  for (const id in changes) {
    const f = schema.field(id);
    if (!hasColumn(f)) continue;
    const v = storedValue(changes[id]);
    out.push(v);
    if (isFolded(f)) out.push(v === null ? null : fold(String(v)));
  }
  return out;
}

/** Within a transaction; decides nothing and records nothing. */
export function updateRow(
  file: PortalFile,
  schema: Schema,
  table: Table,
  id: string,
  changes: Readonly<Record<string, Value>>,
  made: Made,
): void {
  for (const [fieldId, value] of Object.entries(changes))
    if (!hasColumn(schema.field(fieldId))) setLinks(file, schema.field(fieldId), id, (value as string[] | null) ?? []);
  const sets = updateColumns(schema, Object.keys(changes)).map((c) => `${sqlName(c)} = ?`);
  const text = `UPDATE ${sqlName(table.id)} SET version = version + 1, ${sets.join(", ")} WHERE id = ?`;
  file.statements.run(text, () => placed(text), [...updateValues(schema, changes, made), id]);
}

function setLinks(file: PortalFile, field: Field, id: string, targets: readonly string[]): void {
  const table = sqlName(linkTableName(field));
  file.db.prepare(`DELETE FROM ${table} WHERE record_id = ?`).run(id);
  addLinks(file, field, id, targets);
}

/** Adds links to a record that has none yet. */
function addLinks(file: PortalFile, field: Field, id: string, targets: readonly string[]): void {
  if (targets.length === 0) return;
  const insert = file.db.prepare(`INSERT OR IGNORE INTO ${sqlName(linkTableName(field))} (record_id, target_id) VALUES (?, ?)`);
  for (const t of targets) insert.run(id, t);
}
