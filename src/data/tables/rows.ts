/** Rows without a viewer, for the system's own use: decisions about writes, explanations, stored companies. Not for rooms or pages. */
import { type SQL, sql } from "drizzle-orm";
import type { Row, World } from "@/core/access/row";
import type { Field, Schema, Table, Value, Values } from "@/core/schema/types";
import type { PortalFile } from "../file/open";
import { decodeValue, hasColumn, linkColumns, linkTableName, physical } from "./physical";

/** Reads rows that relations lead to, as they stand when they are asked for. */
export function worldOf(file: PortalFile, schema: Schema): World {
  return { row: (table, id) => readRow(file, schema, schema.table(table), id) };
}

/** The same, with each row looked up once: for deciding about a write, until anything is written. */
export function worldBefore(file: PortalFile, schema: Schema): World {
  const known = new Map<string, Row | undefined>();
  return {
    row(table, id) {
      const key = `${table} ${id}`;
      if (!known.has(key)) known.set(key, readRow(file, schema, schema.table(table), id));
      return known.get(key);
    },
  };
}

/** A row with all its values, whoever may see them; undefined where there is none. */
export function readRow(file: PortalFile, schema: Schema, table: Table, id: string): Row | undefined {
  const stored = table.fields.filter(hasColumn);
  const raw = file.statements.row(`row ${table.id} ${schema.version}`, () => {
    const t = physical(schema, table.id);
    return sql`SELECT ${sql.join([t.company, ...stored.map((f) => t.column(f.id))], sql`, `)} FROM ${t.table} WHERE ${t.id} = ${sql.placeholder("p0")}`;
  }, [id]);
  if (!raw) return undefined;
  const values: Record<string, Value> = {};
  for (const [i, f] of stored.entries()) values[f.id] = decodeValue(f, raw[i + 1]);
  for (const f of table.fields) {
    if (hasColumn(f)) continue;
    values[f.id] = linksOf(file, f, id);
  }
  return { id, table: table.id, companyId: raw[0] as string | null, values };
}

/** Ids that a list holds of one record, in order of the ids. */
export function linksSql(f: Field, record: SQL): SQL {
  const { from, to } = linkColumns(f);
  const [table, at, of] = [linkTableName(f), to, from].map((name) => sql.identifier(name));
  return sql`SELECT ${at} AS id FROM ${table} WHERE ${of} = ${record} AND ${at} IS NOT NULL ORDER BY 1`;
}

export function linksOf(file: PortalFile, f: Field, id: string): string[] {
  const rows = file.statements.rows(`linked ${f.id}`, () => linksSql(f, sql`${sql.placeholder("p0")}`), [id]);
  return rows.map((r) => r[0] as string);
}

/** The company of a record, and its values of these fields. */
export function readSome(
  file: PortalFile,
  schema: Schema,
  table: Table,
  id: string,
  fieldIds: readonly string[],
): { companyId: string | null; values: Values } | undefined {
  const fields = fieldIds.map((f) => schema.field(f)).filter(hasColumn);
  const row = file.statements.row(`some ${table.id} ${fieldIds.join()}`, () => {
    const t = physical(schema, table.id);
    return sql`SELECT ${sql.join([t.company, ...fields.map((f) => t.column(f.id))], sql`, `)} FROM ${t.table} WHERE ${t.id} = ${sql.placeholder("p0")}`;
  }, [id]);
  if (!row) return undefined;
  const values: Record<string, Value> = {};
  for (const [i, f] of fields.entries()) values[f.id] = decodeValue(f, row[i + 1]);
  for (const f of fieldIds.map((x) => schema.field(x))) if (!hasColumn(f)) values[f.id] = linksOf(file, f, id);
  return { companyId: row[0] as string | null, values };
}

/** Every row of a table, for counting over all people or companies at once. */
export function readRows(file: PortalFile, schema: Schema, table: Table): Row[] {
  const stored = table.fields.filter(hasColumn);
  const raw = file.statements.rows(`rows ${table.id} ${schema.version}`, () => {
    const t = physical(schema, table.id);
    return sql`SELECT ${sql.join([t.id, t.company, ...stored.map((f) => t.column(f.id))], sql`, `)} FROM ${t.table}`;
  }, []);
  const linkedTo = new Map(table.fields.filter((f) => !hasColumn(f)).map((f) => [f.id, allLinks(file, f)]));
  return raw.map((r): Row => {
    const id = r[0] as string;
    const values: Record<string, Value> = {};
    for (const [i, f] of stored.entries()) values[f.id] = decodeValue(f, r[i + 2]);
    for (const [fieldId, links] of linkedTo) values[fieldId] = links.get(id) ?? [];
    return { id, table: table.id, companyId: r[1] as string | null, values };
  });
}

function allLinks(file: PortalFile, f: Field): Map<string, string[]> {
  const { from, to } = linkColumns(f);
  const rows = file.statements.rows(
    `all linked ${f.id}`,
    () =>
      sql`SELECT ${sql.identifier(from)}, ${sql.identifier(to)} FROM ${sql.identifier(linkTableName(f))} WHERE ${sql.identifier(to)} IS NOT NULL ORDER BY 2`,
    [],
  ) as [string, string][];
  const found = new Map<string, string[]>();
  for (const [record, target] of rows) {
    const list = found.get(record);
    if (list) list.push(target);
    else found.set(record, [target]);
  }
  return found;
}
