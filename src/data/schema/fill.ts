/** A field filled for records that are there: with a value, from another field, or by a rule. Only where it is empty. */

import { sql } from "drizzle-orm";
import { resolve } from "@/core/access/resolve";
import type { Owner } from "@/core/access/who/viewer";
import { actorOf, actorText } from "@/core/events/event";
import { err, ok, type Result } from "@/core/result";
import type { Condition } from "@/core/schema/condition";
import { type Field, isEmpty, kindOf, type Scalar, type Value } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { sqlName } from "@/core/text/sql-name";
import { published } from "../definition/published";
import { record } from "../events/record";
import type { PortalFile } from "../file/open";
import { transact } from "../file/transact";
import { compile, Parameters, shape } from "../records/query/compile";
import { automaticValues } from "../records/write/automatic";
import { scopeCompany } from "../records/write/incoming";
import { comparedColumn } from "../records/write/unique";
import { storeCompanies } from "../tables/company";
import { decodeValue, hasColumn, isFolded, keyName, physical } from "../tables/physical";
import { schemaOf } from "../tables/read";
import { readRow } from "../tables/rows";
import { storedValue } from "../tables/store";
import type { ShapeError } from "./shaping";

export type Fill =
  | { readonly kind: "value"; readonly value: Value }
  | { readonly kind: "field"; readonly from: string }
  /** Records that meet the condition get the value. */
  | { readonly kind: "rule"; readonly when: Condition; readonly value: Value };

export interface Filled {
  readonly filled: number;
  /** Values of the other field that do not fit, by their words. */
  readonly unfit: readonly string[];
}

const refused = (message: string) => err<ShapeError>({ code: "refused", message });

/** Fills a field of all records where it is empty. How many it filled. */
export function fillField(file: PortalFile, owner: Owner, fieldId: string, how: Fill): Result<Filled, ShapeError> {
  const field = schemaOf(file).findField(fieldId);
  if (!field || field.system || !hasColumn(field)) return refused("This field cannot be filled at once.");
  if (field.options.unique && how.kind !== "field")
    return refused("Every record needs a value of its own here, so one value cannot fill them all.");
  return transact(file, (): Result<Filled, ShapeError> => {
    const done =
      how.kind === "field"
        ? fromField(file, owner, field, how.from)
        : withValue(file, owner, field, how.value, how.kind === "rule" ? how.when : null);
    if (!done.ok) return done;
    if (field.options.target) {
      const { policy } = published(file);
      for (const t of policy.schema.tables) storeCompanies(file, policy, t.id);
    }
    record(file, {
      actor: actorOf(owner),
      via: "page",
      at: owner.now,
      kind: "field-filled",
      table: field.tableId,
      detail: `${field.name}: ${done.value.filled} records`,
    });
    return done;
  });
}

const stamp = (owner: Owner): [string, string] => [new Date(owner.now).toISOString(), actorText(actorOf(owner))];

function withValue(file: PortalFile, owner: Owner, field: Field, value: Value, when: Condition | null): Result<Filled, ShapeError> {
  const stored = storedValue(value);
  if (isEmpty(value) || stored === null) return refused("Give a value to fill in.");
  const schema = schemaOf(file);
  const predicate = resolve(when, owner);
  const values: Scalar[] = [];
  const key = `fill ${field.id} ${shape(predicate, schema, values)}`;
  const sets = isFolded(field) ? [field.id, keyName(field.id)] : [field.id];
  const n = file.statements.run(key, () => {
    const params = new Parameters();
    const t = physical(schema, field.tableId);
    const where = compile(predicate, field.tableId, schema, params);
    const own = sql.join(
      ["changed_at", "changed_by", ...sets].map((c, i) => sql`${sql.identifier(c)} = ${sql.placeholder(`p${values.length + i}`)}`),
      sql`, `,
    );
    return sql`UPDATE ${t.table} SET version = version + 1, ${own} WHERE ${t.column(field.id)} IS NULL AND ${where}`;
  }, [...values, ...stamp(owner), stored, ...(isFolded(field) ? [fold(String(stored))] : [])]);
  return ok({ filled: n, unfit: [] });
}

function fromField(file: PortalFile, owner: Owner, field: Field, fromId: string): Result<Filled, ShapeError> {
  const schema = schemaOf(file);
  const from = schema.findField(fromId);
  if (!from || from.tableId !== field.tableId || from.id === field.id || !hasColumn(from))
    return refused("Choose another field of this table to fill it from.");
  if (field.options.target && from.options.target !== field.options.target)
    return refused(`${from.name} points elsewhere, so it cannot fill ${field.name}.`);
  const { locale, timeZone } = published(file).definition.portal;
  const rows = file.db
    .prepare(
      `SELECT rowid, ${sqlName(from.id)}, company_id FROM ${sqlName(field.tableId)} WHERE ${sqlName(field.id)} IS NULL AND ${sqlName(from.id)} IS NOT NULL`,
    )
    .raw()
    .all() as [number, unknown, string | null][];
  const put = file.db.prepare(
    `UPDATE ${sqlName(field.tableId)} SET version = version + 1, changed_at = ?, changed_by = ?, ${sqlName(field.id)} = ?${isFolded(field) ? `, ${sqlName(keyName(field.id))} = ?` : ""} WHERE rowid = ?`,
  );
  const unfit = new Set<string>();
  const held = field.options.unique ? heldValues(file, field) : null;
  let filled = 0;
  for (const [rowid, raw, company] of rows) {
    const v = decodeValue(from, raw);
    const words =
      kindOf(field).folds && !kindOf(from).folds
        ? [kindOf(from).words(v as never, from, { locale, timeZone })]
        : kindOf(from).texts(v as never, from, timeZone);
    const read = from.type === field.type && !from.options.choices ? ok(v) : kindOf(field).parse(words, field, { timeZone });
    const stored = read.ok ? storedValue(read.value) : null;
    const key = held?.keyOf(stored, company);
    if (stored === null || (key !== undefined && held?.keys.has(key))) {
      if (unfit.size < 20) unfit.add(words.join("; ").slice(0, 80));
      continue;
    }
    if (key !== undefined) held?.keys.add(key);
    put.run(...stamp(owner), stored, ...(isFolded(field) ? [fold(String(stored))] : []), rowid);
    filled++;
  }
  return ok({ filled, unfit: [...unfit] });
}

/** What a field that must be unlike others holds already, as it is compared: of owned tables, within each company. */
function heldValues(file: PortalFile, field: Field): { keys: Set<string>; keyOf: (stored: unknown, company: string | null) => string } {
  const { policy } = published(file);
  const table = policy.schema.table(field.tableId);
  const within = (company: string | null): string => scopeCompany(policy, table, company) ?? "";
  const rows = file.db
    .prepare(`SELECT ${sqlName(comparedColumn(field))}, company_id FROM ${sqlName(table.id)} WHERE ${sqlName(field.id)} IS NOT NULL`)
    .raw()
    .all() as [unknown, string | null][];
  return {
    keys: new Set(rows.map(([v, company]) => `${within(company)} ${String(v)}`)),
    keyOf: (stored, company) => `${within(company)} ${isFolded(field) ? fold(String(stored)) : String(stored)}`,
  };
}

/** Numbers in order and readable addresses of records that were there before the field was, in the order they were made. */
export function fillAutomatic(file: PortalFile, owner: Owner, fieldId: string): number {
  const { policy } = published(file);
  const field = policy.schema.field(fieldId);
  const table = policy.schema.table(field.tableId);
  return transact(file, () => {
    const ids = file.db
      .prepare(`SELECT id FROM ${sqlName(table.id)} WHERE ${sqlName(fieldId)} IS NULL ORDER BY created_at, rowid`)
      .pluck()
      .all() as string[];
    const put = file.db.prepare(`UPDATE ${sqlName(table.id)} SET ${sqlName(fieldId)} = ?, ${sqlName(keyName(fieldId))} = ? WHERE id = ?`);
    const only = { ...table, fields: table.fields.filter((f) => f.id === fieldId) };
    for (const id of ids) {
      const row = readRow(file, policy.schema, table, id)!;
      const v = automaticValues({ file, policy, viewer: owner, table: only, id, company: row.companyId }, row.values, null)[fieldId];
      if (!isEmpty(v)) put.run(String(v), fold(String(v)), id);
    }
    if (ids.length > 0)
      record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind: "field-filled", table: table.id, detail: field.name });
    return ids.length;
  });
}
