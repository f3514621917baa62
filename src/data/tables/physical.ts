/**
 * The agency's tables as Drizzle table objects, built at run time from the schema. Names that people choose stay in the
 * registry; columns are called by field id, and the builder quotes them.
 */
import { integer, real, type SQLiteColumn, sqliteTable, text } from "drizzle-orm/sqlite-core";
import { foldsCase } from "@/core/access/compare";
import { type Field, type FieldType, kindOf, type Schema, type Table, type Value } from "@/core/schema/types";

export interface Physical {
  readonly table: ReturnType<typeof sqliteTable>;
  readonly id: SQLiteColumn;
  readonly company: SQLiteColumn;
  /** The column of a field; for text, `key` holds the folded form that comparisons and sorting use. */
  column(fieldId: string): SQLiteColumn;
  key(fieldId: string): SQLiteColumn;
}

const NAME = /^[a-z][a-z0-9_]{0,60}$/;

/** The column beside a text's own that holds it folded, for sorting and comparing. */
export const keyName = (fieldId: string): string => `${fieldId}_k`;
/** Many-relations live in a table of their own; the memberships of people are one such. */
export const linkTableName = (field: Field): string => (field.id === "f_person_companies" ? "sys_memberships" : `l_${field.id}`);
/** The two columns of the table that holds a relation to several. */
export const linkColumns = (field: Field): { from: string; to: string } =>
  field.id === "f_person_companies" ? { from: "person_id", to: "company_id" } : { from: "record_id", to: "target_id" };

/** How a type is stored: the column of STRICT SQLite, and the way from a stored value to the core's. Lists of relations have a table. */
interface Stored {
  readonly column: "TEXT" | "INTEGER" | "REAL" | null;
  readonly decode?: (stored: unknown) => Value;
}

const STORED: Record<FieldType, Stored> = {
  text: { column: "TEXT" },
  "long-text": { column: "TEXT" },
  number: { column: "INTEGER" },
  money: { column: "INTEGER" },
  percent: { column: "INTEGER" },
  date: { column: "TEXT" },
  "date-time": { column: "TEXT" },
  email: { column: "TEXT" },
  telephone: { column: "TEXT" },
  "web-address": { column: "TEXT" },
  serial: { column: "TEXT" },
  "readable-address": { column: "TEXT" },
  "yes-no": { column: "INTEGER", decode: (v) => v === 1 },
  choice: { column: "TEXT" },
  choices: { column: "TEXT", decode: (v) => JSON.parse(v as string) as string[] },
  files: { column: "TEXT", decode: (v) => JSON.parse(v as string) as string[] },
  pictures: { column: "TEXT", decode: (v) => JSON.parse(v as string) as string[] },
  relation: { column: "TEXT" },
  relations: { column: null },
};

export const columnType = (f: Field): string => STORED[f.type].column ?? "";
/** Columns that a write sets; what is kept by Elkhorn is worked out by SQLite. */
export const isWritten = (f: Field): boolean => hasColumn(f) && !f.options.kept;
/** Whether values stand in the record's own row; relations to several have a table of pairs. */
export const hasColumn = (f: Pick<Field, "type">): boolean => STORED[f.type].column !== null;
/** Whether values are compared folded, in a column of their own. */
export const isFolded = (f: Field): boolean => foldsCase(f.type);

/** What is stored, as a value of the field's type. */
export function decodeValue(f: Field, stored: unknown): Value {
  if (stored === null || stored === undefined) return kindOf(f).many ? [] : null;
  return STORED[f.type].decode?.(stored) ?? (stored as Value);
}

function columnOf(f: Field) {
  switch (STORED[f.type].column) {
    case "INTEGER":
      return integer(f.id);
    case "REAL":
      return real(f.id);
    default:
      return text(f.id as string);
  }
}

function build(t: Table): Physical {
  for (const name of [t.id, ...t.fields.map((f) => f.id)]) {
    if (!NAME.test(name)) throw new Error(`${name} is not a safe column name; ids are made by the registry, never from what people type.`);
  }
  const columns: Record<string, ReturnType<typeof columnOf>> = { id: text("id" as string), company_id: text("company_id" as string) };
  for (const f of t.fields.filter(hasColumn)) {
    columns[f.id] = columnOf(f);
    if (isFolded(f)) columns[keyName(f.id)] = text(keyName(f.id) as string);
  }
  const table = sqliteTable(t.id, columns) as unknown as ReturnType<typeof sqliteTable> & Record<string, SQLiteColumn>;
  const get = (name: string): SQLiteColumn => {
    const c = table[name];
    if (!c) throw new Error(`Table ${t.id} has no column ${name}.`);
    return c;
  };
  const folded = new Set(t.fields.filter(isFolded).map((f) => f.id));
  return { table, id: get("id"), company: get("company_id"), column: get, key: (f) => get(folded.has(f) ? keyName(f) : f) };
}

const built = new WeakMap<Schema, Map<string, Physical>>();

/** A table as its columns are called in SQL, worked out once for a schema. */
export function physical(schema: Schema, tableId: string): Physical {
  let tables = built.get(schema);
  if (!tables) built.set(schema, (tables = new Map()));
  let p = tables.get(tableId);
  if (!p) tables.set(tableId, (p = build(schema.table(tableId))));
  return p;
}
