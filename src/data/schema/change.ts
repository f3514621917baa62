/** Tables and fields made, in transactions. Tables change at once, and only by adding. */

import { eq } from "drizzle-orm";
import type { Operand } from "@/core/access/condition";
import { isReserved } from "@/core/address/reserved";
import { slugOf } from "@/core/address/slug";
import {
  type Choice,
  type Field,
  type FieldType,
  isRelation,
  kindOf,
  type Schema,
  type SharedOptions,
  type TableKind,
} from "@/core/schema/types";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { transact } from "../file/transact";
import { columnType, hasColumn, isFolded, keyName, linkTableName } from "../records/query/physical";
import { nextNumber } from "./meta";

export interface NewOptions extends SharedOptions {
  target?: string;
  currency?: string;
  decimals?: number;
  /** Words get ids of their own; a default may name one by its words. */
  choices?: readonly (string | Choice)[];
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

const q = (name: string): string => `"${name}"`;
const touchSchema = (file: PortalFile): void => void nextNumber(file, "schema_version");

/** An address for a table of that name, which no other has and Elkhorn does not need. */
export const freeTableSlug = (schema: Schema, name: string): string =>
  slugOf(name, "table", (s) => isReserved("table", s) || schema.tableBySlug(s) !== undefined);

export function addTable(file: PortalFile, spec: NewTable): string {
  if (isReserved("table", spec.slug)) throw new Error(`${spec.slug} is reserved; make a free address with freeTableSlug.`);
  return transact(file, () => {
    const id = spec.id ?? `t_${nextNumber(file, "tables")}`;
    file.db.exec(
      `CREATE TABLE ${q(id)} (id TEXT PRIMARY KEY, company_id TEXT, version INTEGER NOT NULL DEFAULT 1, created_at TEXT, created_by TEXT, changed_at TEXT, changed_by TEXT) STRICT`,
    );
    const position = nextNumber(file, "positions");
    file.orm
      .insert(t.tables)
      .values({ id, slug: spec.slug, name: spec.name, singular: spec.singular, kind: spec.kind ?? "ordinary", labelField: "", position })
      .run();
    const ids = spec.fields.map((f) => addField(file, id, f));
    file.orm.update(t.tables).set({ labelField: ids[0]! }).where(eq(t.tables.id, id)).run();
    const label = kindOf(spec.fields[0]!).folds ? keyName(ids[0]!) : ids[0]!;
    file.db.exec(`CREATE INDEX ${q(`ix_${id}_home`)} ON ${q(id)} (company_id, ${q(label)})`);
    // With the id, which ends every order: a page far down a list then passes over index entries alone.
    file.db.exec(`CREATE INDEX ${q(`ix_${id}_label`)} ON ${q(id)} (${q(label)}, id)`);
    touchSchema(file);
    return id;
  });
}

export function addField(file: PortalFile, tableId: string, spec: NewField): string {
  return transact(file, () => {
    const id = spec.id ?? `f_${nextNumber(file, "fields")}`;
    const options = optionsOf(file, spec);
    const field = { id, tableId, slug: spec.slug, name: spec.name, type: spec.type, options, system: spec.system ?? false } as Field;
    file.orm
      .insert(t.fields)
      .values({ ...field, options: JSON.stringify(field.options), system: field.system ? 1 : 0, position: nextNumber(file, "positions") })
      .run();
    if (hasColumn(field)) addColumn(file, field);
    else if (id !== "f_person_companies") {
      const link = linkTableName(field);
      file.db.exec(
        `CREATE TABLE ${q(link)} (record_id TEXT NOT NULL, target_id TEXT NOT NULL, PRIMARY KEY (record_id, target_id)) STRICT, WITHOUT ROWID;
         CREATE INDEX ${q(`ix_${link}`)} ON ${q(link)} (target_id, record_id)`,
      );
    }
    touchSchema(file);
    return id;
  });
}

function optionsOf(file: PortalFile, { type, options = {} }: NewField): object {
  const { required, default: given, ...own } = options;
  const choices = own.choices?.map((c): Choice => (typeof c === "string" ? { id: `c_${nextNumber(file, "choices")}`, name: c } : c));
  const shared = { ...(required ? { required } : {}), ...(given ? { default: named(given, choices) } : {}) };
  return { ...kindOf({ type }).options({ ...own, ...(choices ? { choices } : {}) } as never), ...shared };
}

function named(given: Operand, choices: readonly Choice[] | undefined): Operand {
  if (given.kind !== "literal" || !choices) return given;
  return { ...given, value: choices.find((c) => c.name === given.value)?.id ?? given.value };
}

function addColumn(file: PortalFile, field: Field): void {
  const table = q(field.tableId);
  const points = field.type === "relation" ? ` REFERENCES ${q(field.options.target)} (id)` : "";
  file.db.exec(`ALTER TABLE ${table} ADD COLUMN ${q(field.id)} ${columnType(field)}${points}`);
  if (isFolded(field)) file.db.exec(`ALTER TABLE ${table} ADD COLUMN ${q(keyName(field.id))} TEXT`);
  if (isRelation(field)) file.db.exec(`CREATE INDEX ${q(`ix_${field.id}`)} ON ${table} (${q(field.id)}, company_id)`);
}
