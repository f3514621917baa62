/** Tables and fields made, in transactions. Tables change at once, and only by adding. */

import { isReserved } from "@/core/address/reserved";
import { slugOf } from "@/core/address/slug";
import type { Operand } from "@/core/schema/condition";
import { isAutomatic, isMadeFromAnother, isRelation, pointsToOne } from "@/core/schema/fields/natures";
import {
  type Choice,
  type Field,
  type FieldType,
  type Kept,
  kindOf,
  type Schema,
  type SharedOptions,
  type TableKind,
} from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { transact } from "../file/transact";
import { nextNumber, nextNumbers } from "./meta";
import { columnType, hasColumn, isFolded, keyName, linkTableName } from "./physical";

type NewChoice = Omit<Choice, "id"> & { readonly id?: string };
type OwnOptions = Omit<Parameters<ReturnType<typeof kindOf>["options"]>[0], "choices">;
export interface NewOptions extends SharedOptions, OwnOptions {
  /** Words get ids of their own; a default may name one by its words. */
  choices?: readonly (string | NewChoice)[];
}
export interface NewField {
  slug: string;
  name: string;
  type: FieldType;
  options?: NewOptions;
  system?: boolean;
  /** Fixed ids are for the built-in fields of people and companies. */
  id?: string;
}
export interface NewTable {
  slug: string;
  name: string;
  singular: string;
  kind?: TableKind;
  id?: string;
  /** The first is the one that names a record, unless `label` says which. */
  fields: NewField[];
}

const touchSchema = (file: PortalFile): void => void nextNumber(file, "schema_version");

/** An address for a table of that name, which no other has and Elkhorn does not need. */
export const freeTableSlug = (schema: Schema, name: string): string =>
  slugOf(name, "table", (s) => isReserved("table", s) || schema.tableBySlug(s) !== undefined);

/** Within a transaction. The new table's id. */
export function addTable(file: PortalFile, spec: NewTable): string {
  if (isReserved("table", spec.slug)) throw new Error(`${spec.slug} is reserved; make a free address with freeTableSlug.`);
  return transact(file, () => {
    const id = spec.id ?? `t_${nextNumber(file, "tables")}`;
    file.db.exec(
      `CREATE TABLE ${sqlName(id)} (id TEXT PRIMARY KEY, company_id TEXT, version INTEGER NOT NULL DEFAULT 1, created_at TEXT, created_by TEXT, changed_at TEXT, changed_by TEXT) STRICT`,
    );
    const position = nextNumbers(file, "positions", 1 + spec.fields.length);
    let number = nextNumbers(file, "fields", spec.fields.filter((f) => f.id === undefined).length);
    const ids = spec.fields.map((f) => f.id ?? `f_${number++}`);
    const labelField = ids[0]!;
    file.orm
      .insert(t.tables)
      .values({ id, slug: spec.slug, name: spec.name, singular: spec.singular, kind: spec.kind ?? "ordinary", labelField, position })
      .run();
    for (const [i, f] of spec.fields.entries()) makeField(file, id, f, ids[i]!, position + 1 + i);
    const label = kindOf(spec.fields[0]!).folds ? keyName(labelField) : labelField;
    file.db.exec(`CREATE INDEX ${sqlName(`ix_${id}_home`)} ON ${sqlName(id)} (company_id, ${sqlName(label)})`);
    // With the id, which ends every order: a page far down a list then passes over index entries alone.
    file.db.exec(`CREATE INDEX ${sqlName(`ix_${id}_label`)} ON ${sqlName(id)} (${sqlName(label)}, id)`);
    touchSchema(file);
    return id;
  });
}

/** Within a transaction. The new field's id. */
export function addField(file: PortalFile, tableId: string, spec: NewField): string {
  return transact(file, () => {
    const id = makeField(file, tableId, spec, spec.id ?? `f_${nextNumber(file, "fields")}`, nextNumber(file, "positions"));
    touchSchema(file);
    return id;
  });
}

function makeField(file: PortalFile, tableId: string, spec: NewField, id: string, position: number): string {
  const options = optionsOf(file, spec);
  const field = { id, tableId, slug: spec.slug, name: spec.name, type: spec.type, options, system: spec.system ?? isMade(spec) } as Field;
  file.orm
    .insert(t.fields)
    .values({ ...field, options: JSON.stringify(field.options), system: field.system ? 1 : 0, position })
    .run();
  if (hasColumn(field)) addColumn(file, field);
  else if (id !== "f_person_companies") {
    const link = linkTableName(field);
    file.db.exec(
      `CREATE TABLE ${sqlName(link)} (record_id TEXT NOT NULL, target_id TEXT NOT NULL, PRIMARY KEY (record_id, target_id)) STRICT, WITHOUT ROWID;
       CREATE INDEX ${sqlName(`ix_${link}`)} ON ${sqlName(link)} (target_id, record_id)`,
    );
  }
  return id;
}

/** Whether Elkhorn sets it, not people. */
const isMade = ({ type, options }: NewField): boolean => isAutomatic({ type }) || options?.kept !== undefined;

function optionsOf(file: PortalFile, { type, options = {} }: NewField): object {
  const { default: given, ...own } = options;
  const first = nextNumbers(file, "choices", own.choices?.length ?? 0);
  const choices = own.choices?.map((c, i): Choice => ({ id: `c_${first + i}`, ...(typeof c === "string" ? { name: c } : c) }));
  const shared = { ...sharedOptions(options), ...(given ? { default: named(given, choices) } : {}) };
  return { ...kindOf({ type }).options({ ...own, ...(choices ? { choices } : {}) } as never), ...shared };
}

/** The options that were given; those that are off are not stored. */
export function sharedOptions(o: SharedOptions): SharedOptions {
  const out: Record<string, unknown> = {};
  for (const key of ["required", "default", "unique", "help", "offForms", "offSearch", "kept", "onRemoval"] as const)
    if (o[key]) out[key] = o[key];
  return out as SharedOptions;
}

function named(given: Operand, choices: readonly Choice[] | undefined): Operand {
  if (given.kind !== "literal" || !choices) return given;
  return { ...given, value: choices.find((c) => c.name === given.value)?.id ?? given.value };
}

/** Where rows keep it. Who is no person of the portal (the agency's office, a visitor) is nobody that a relation could show. */
const KEPT_IN: Record<Kept, string> = {
  "made-at": "created_at",
  "changed-at": "changed_at",
  "made-by": "CASE WHEN length(created_by) = 36 THEN created_by END",
  "changed-by": "CASE WHEN length(changed_by) = 36 THEN changed_by END",
};

/** Indexes a unique field, so that a value is found without reading every record. */
export function indexUnique(file: PortalFile, field: Field): void {
  const column = isFolded(field) ? keyName(field.id) : field.id;
  file.db.exec(`CREATE INDEX IF NOT EXISTS ${sqlName(`ux_${field.id}`)} ON ${sqlName(field.tableId)} (${sqlName(column)}, company_id)`);
}

/** Adds the column of a field that is in the registry already. */
export function addColumn(file: PortalFile, field: Field): void {
  const table = sqlName(field.tableId);
  const points = pointsToOne(field) ? ` REFERENCES ${sqlName(field.options.target)} (id)` : "";
  const kept = field.options.kept;
  const own = kept ? ` GENERATED ALWAYS AS (${KEPT_IN[kept]}) VIRTUAL` : points;
  file.db.exec(`ALTER TABLE ${table} ADD COLUMN ${sqlName(field.id)} ${columnType(field)}${own}`);
  if (isFolded(field)) file.db.exec(`ALTER TABLE ${table} ADD COLUMN ${sqlName(keyName(field.id))} TEXT`);
  if (field.options.unique || isMadeFromAnother(field)) indexUnique(file, field);
  if (isRelation(field)) file.db.exec(`CREATE INDEX ${sqlName(`ix_${field.id}`)} ON ${table} (${sqlName(field.id)}, company_id)`);
}
