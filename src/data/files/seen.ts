/** Files as a viewer receives them: exactly by who sees the field that holds them. */
import { inArray } from "drizzle-orm";
import { openFiles } from "@/core/access/decide";
import { scope } from "@/core/access/scope";
import type { FileRef, SeenRecord } from "@/core/schema/seen";
import type { Field, Table } from "@/core/schema/types";
import type { Access } from "../access";
import type { PortalFile } from "../file/open";
import { files } from "../file/portal-tables";
import { readRow, worldOf } from "../tables/rows";
import type { PictureSize } from "./pictures";

type Row = typeof files.$inferSelect;

export const addressOf = (field: Field, record: string, row: Pick<Row, "id" | "name">): string =>
  addressIn(field.tableId, record, field.id, row);
/** `where` is a field's id, or what else of the record holds it. */
export const addressIn = (table: string, record: string, where: string, row: Pick<Row, "id" | "name">): string =>
  `/-/files/${table}/${record}/${where}/${row.id}/${encodeURIComponent(row.name)}`;

/** A file as a viewer is told of it; `at` is its address, null where only its name is seen. */
export const refOf = (row: Row, at: string | null): FileRef => ({
  file: true,
  id: row.id,
  name: row.name,
  type: row.type ?? "",
  bytes: row.bytes,
  picture: row.width && row.height ? { width: row.width, height: row.height } : null,
  at,
});

/** Reads all files of a page of records at once. */
export function fileRows(file: PortalFile, ids: readonly string[]): Map<string, Row> {
  if (ids.length === 0) return new Map();
  return new Map(
    file.orm
      .select()
      .from(files)
      .where(inArray(files.id, [...ids]))
      .all()
      .map((r) => [r.id, r]),
  );
}

/** Whether some grant by which the viewer sees the field gives names alone: then a list shows no addresses of it. */
const namesOnly = (d: Access, field: Field): boolean => {
  const s = scope(d.policy, d.viewer, field.tableId);
  return !s.everything && s.grants.some((g) => g.grant.namesOnly?.includes(field.id));
};

/** Files of a field as its reader has them, each with its address; those that are gone are left out. */
export function asSeen(d: Access, field: Field, record: string, ids: readonly string[], rows: ReadonlyMap<string, Row>): FileRef[] {
  const hidden = namesOnly(d, field);
  return ids.flatMap((id): FileRef[] => {
    const row = rows.get(id);
    if (!row?.hash) return [];
    return [refOf(row, hidden ? null : addressOf(field, record, row))];
  });
}

export interface OpenFile {
  readonly name: string;
  readonly type: string;
  readonly hash: string;
}

/** What stands at a file's address for this viewer: undefined where they may not have it, whether or not it is there. */
export function openFile(
  d: Access,
  table: Table,
  seen: SeenRecord,
  fieldId: string,
  id: string,
  size: PictureSize | null,
): OpenFile | undefined {
  const value = seen.fields[fieldId];
  const ref = Array.isArray(value) ? (value as readonly FileRef[]).find((x) => x.id === id) : undefined;
  if (!ref) return d.viewer.kind === "owner" ? whatWas(d, seen.id, fieldId, id, size) : undefined;
  // A list may leave an address out; here the very record decides.
  const row = readRow(d.file, d.policy.schema, table, seen.id);
  if (!row || !openFiles(d.policy, d.viewer, row, worldOf(d.file, d.policy.schema)).includes(fieldId)) return undefined;
  const stored = fileRows(d.file, [id]).get(id);
  return stored && contentOf(stored, size);
}

/** The history of a record is the owner's: what its field held before is to be had still. */
function whatWas(d: Access, record: string, fieldId: string, id: string, size: PictureSize | null): OpenFile | undefined {
  const stored = fileRows(d.file, [id]).get(id);
  return stored?.recordId === record && stored.fieldId === fieldId ? contentOf(stored, size) : undefined;
}

/** The bytes of a file, or of a picture in one of its sizes; undefined where they are not there. */
export function contentOf(stored: Row, size: PictureSize | null): OpenFile | undefined {
  if (!stored.hash) return undefined;
  const smaller = size ? (JSON.parse(stored.sizes ?? "{}") as Partial<Record<PictureSize, string>>)[size] : undefined;
  return { name: stored.name, type: smaller ? "image/webp" : (stored.type ?? "application/octet-stream"), hash: smaller ?? stored.hash };
}
