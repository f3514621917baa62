/** Tables and fields of a portal: read as a `Schema`, made and extended in transactions. Tables change only by adding. */
import { asc, eq } from "drizzle-orm";
import { type Field, type FieldOptions, type FieldType, isRelation, Schema, type Table, type TableKind } from "@/core/schema/types";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { hasColumn, isFolded, keyName } from "../records/query/physical";

const schemas = new WeakMap<PortalFile, Schema>();

/** The schema as it is now: another process, or another handle, may have added to it. */
export function schemaOf(file: PortalFile): Schema {
  const version = Number(readMeta(file, "schema_version") ?? 0);
  const known = schemas.get(file);
  if (known?.version === version) return known;
  const fields = file.orm.select().from(t.fields).orderBy(asc(t.fields.position)).all();
  const tables = file.orm.select().from(t.tables).orderBy(asc(t.tables.position)).all();
  const schema = new Schema(
    version,
    tables.map(
      (row): Table => ({
        id: row.id,
        slug: row.slug,
        name: row.name,
        singular: row.singular,
        kind: row.kind as TableKind,
        labelFieldId: row.labelField,
        fields: fields
          .filter((f) => f.tableId === row.id)
          .map(
            (f): Field => ({
              id: f.id,
              tableId: f.tableId,
              slug: f.slug,
              name: f.name,
              type: f.type as FieldType,
              options: JSON.parse(f.options) as FieldOptions,
              system: f.system === 1,
            }),
          ),
      }),
    ),
  );
  schemas.set(file, schema);
  file.statements.clear();
  return schema;
}

const metaStatements = new WeakMap<PortalFile, ReturnType<PortalFile["db"]["prepare"]>>();

export function readMeta(file: PortalFile, key: string): string | undefined {
  let s = metaStatements.get(file);
  if (!s) metaStatements.set(file, (s = file.db.prepare("SELECT value FROM sys_meta WHERE key = ?").pluck()));
  return s.get(key) as string | undefined;
}

export function writeMeta(file: PortalFile, key: string, value: string): void {
  file.orm.insert(t.meta).values({ key, value }).onConflictDoUpdate({ target: t.meta.key, set: { value } }).run();
}

export function nextNumber(file: PortalFile, counter: string): number {
  const n = Number(readMeta(file, counter) ?? 0) + 1;
  writeMeta(file, counter, String(n));
  return n;
}

const touchSchema = (file: PortalFile): void => {
  nextNumber(file, "schema_version");
};

export interface NewField {
  slug: string;
  name: string;
  type: FieldType;
  options?: FieldOptions;
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
  /** The first is the one that names a record. */
  fields: NewField[];
}

const SQL_TYPE: Record<FieldType, string> = {
  text: "TEXT",
  "long-text": "TEXT",
  number: "REAL",
  money: "INTEGER",
  date: "TEXT",
  "yes-no": "INTEGER",
  choice: "TEXT",
  choices: "TEXT",
  relation: "TEXT",
  relations: "",
};
const q = (name: string): string => `"${name}"`;

export function addTable(file: PortalFile, spec: NewTable): string {
  return file.db.transaction(() => {
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
    const label = spec.fields[0]!.type === "text" ? keyName(ids[0]!) : ids[0]!;
    file.db.exec(`CREATE INDEX ${q(`ix_${id}_home`)} ON ${q(id)} (company_id, ${q(label)})`);
    file.db.exec(`CREATE INDEX ${q(`ix_${id}_label`)} ON ${q(id)} (${q(label)})`);
    touchSchema(file);
    return id;
  })();
}

export function addField(file: PortalFile, tableId: string, spec: NewField): string {
  return file.db.transaction(() => {
    const id = spec.id ?? `f_${nextNumber(file, "fields")}`;
    const field: Field = {
      id,
      tableId,
      slug: spec.slug,
      name: spec.name,
      type: spec.type,
      options: spec.options ?? {},
      system: spec.system ?? false,
    };
    file.orm
      .insert(t.fields)
      .values({ ...field, options: JSON.stringify(field.options), system: field.system ? 1 : 0, position: nextNumber(file, "positions") })
      .run();
    if (hasColumn(field)) addColumn(file, field);
    else if (id !== "f_person_companies") {
      file.db.exec(
        `CREATE TABLE ${q(`l_${id}`)} (record_id TEXT NOT NULL, target_id TEXT NOT NULL, PRIMARY KEY (record_id, target_id)) STRICT, WITHOUT ROWID;
         CREATE INDEX ${q(`ix_l_${id}`)} ON ${q(`l_${id}`)} (target_id, record_id)`,
      );
    }
    touchSchema(file);
    return id;
  })();
}

function addColumn(file: PortalFile, field: Field): void {
  const table = q(field.tableId);
  const points = field.type === "relation" ? ` REFERENCES ${q(field.options.target!)} (id)` : "";
  file.db.exec(`ALTER TABLE ${table} ADD COLUMN ${q(field.id)} ${SQL_TYPE[field.type]}${points}`);
  if (isFolded(field)) file.db.exec(`ALTER TABLE ${table} ADD COLUMN ${q(keyName(field.id))} TEXT`);
  if (isRelation(field)) file.db.exec(`CREATE INDEX ${q(`ix_${field.id}`)} ON ${table} (${q(field.id)}, company_id)`);
}

/** The built-in tables that every portal has, so that filters and walls can speak of people and companies like of any record. */
export function addBuiltInTables(file: PortalFile): void {
  addTable(file, {
    id: "t_companies",
    kind: "companies",
    slug: "companies",
    name: "Companies",
    singular: "Company",
    fields: [
      { id: "f_company_name", slug: "name", name: "Name", type: "text", options: { required: true } },
      { id: "f_company_slug", slug: "slug", name: "Short name", type: "text", system: true },
    ],
  });
  addTable(file, {
    id: "t_people",
    kind: "people",
    slug: "people",
    name: "People",
    singular: "Person",
    fields: [
      { id: "f_person_name", slug: "name", name: "Name", type: "text", options: { required: true } },
      { id: "f_person_email", slug: "email", name: "E-mail", type: "text", options: { required: true }, system: true },
      {
        id: "f_person_status",
        slug: "status",
        name: "Status",
        type: "choice",
        system: true,
        options: { choices: ["invited", "awaiting approval", "active", "inactive", "expired"] },
      },
      {
        id: "f_person_companies",
        slug: "companies",
        name: "Companies",
        type: "relations",
        options: { target: "t_companies" },
        system: true,
      },
    ],
  });
  file.db.exec(`CREATE UNIQUE INDEX "ux_people_email" ON "t_people" ("f_person_email_k")`);
}
