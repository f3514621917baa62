/** Tables and fields of a portal, read from its registry as a `Schema`. */
import { asc, eq, isNull } from "drizzle-orm";
import { type Field, kindOf, Schema, type Table, type TableKind } from "@/core/schema/types";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { readMeta } from "./meta";

const schemas = new WeakMap<PortalFile, Schema>();

/** The schema of the version that this file's `meta` last looked up: see `file/meta.ts`. */
export function schemaOf(file: PortalFile): Schema {
  const version = Number(readMeta(file, "schema_version") ?? 0);
  const known = schemas.get(file);
  if (known?.version === version) return known;
  const fields = file.orm.select().from(t.fields).where(isNull(t.fields.away)).orderBy(asc(t.fields.position)).all().map(fieldOf);
  const tables = file.orm.select().from(t.tables).where(isNull(t.tables.away)).orderBy(asc(t.tables.position)).all();
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
        about: row.about,
        fields: fields.filter((f) => f.tableId === row.id),
      }),
    ),
  );
  schemas.set(file, schema);
  file.statements.clear();
  return schema;
}

/** A field as it is stored, with the options that its type knows. */
export function fieldOf({ options, system, position: _, away: __, type, ...f }: typeof t.fields.$inferSelect): Field {
  const stored = JSON.parse(options) as Field["options"];
  const own = kindOf({ type: type as Field["type"] }).options(stored as never);
  return { ...f, type, options: { ...stored, ...own }, system: system === 1 } as Field;
}

/** The table that stood at this address before it was moved. */
export function movedTable(file: PortalFile, slug: string): Table | undefined {
  const old = file.orm.select().from(t.oldAddresses).where(eq(t.oldAddresses.slug, slug)).get();
  return old && schemaOf(file).findTable(old.tableId);
}
