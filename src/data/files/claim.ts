/** Gives uploaded files to a record: only uploads by the person who writes it, made for that field, which no other record has. */

import { inArray } from "drizzle-orm";
import { holdsFiles } from "@/core/schema/fields/natures";
import type { Field, Table, Value, Values } from "@/core/schema/types";
import type { Access } from "../access";
import { files } from "../file/portal-tables";
import { uploader } from "./uploader";

export const fileFields = (table: Table): Field[] => table.fields.filter(holdsFiles);

const idsIn = (v: Value | undefined): readonly string[] => (Array.isArray(v) ? (v as readonly string[]) : []);

/** Files among the values that this record may not have, by field. `before` is what it has already. */
export function strangeFiles(
  d: Access,
  table: Table,
  record: string,
  values: Readonly<Record<string, Value>>,
  before: Values | null,
): { field: string; message: string }[] {
  return fileFields(table).flatMap((f) => {
    const held = new Set(idsIn(before?.[f.id]));
    const fresh = idsIn(values[f.id]).filter((id) => !held.has(id));
    if (fresh.length === 0) return [];
    const rows = d.file.orm.select().from(files).where(inArray(files.id, fresh)).all();
    // The owner takes back what they took out of this very record: undo.
    const free = (r: (typeof rows)[number]): boolean =>
      (r.recordId === null && r.madeBy === uploader(d.viewer)) || (r.recordId === record && d.viewer.kind === "owner");
    const own = rows.filter((r) => r.fieldId === f.id && r.hash !== null && free(r));
    return own.length === fresh.length ? [] : [{ field: f.id, message: "One of these files is not here any more. Choose it again." }];
  });
}

/** In the transaction of the write. */
export function claimFiles(d: Access, table: Table, record: string, values: Readonly<Record<string, Value>>): void {
  for (const f of fileFields(table)) {
    const ids = idsIn(values[f.id]);
    if (ids.length > 0)
      d.file.orm
        .update(files)
        .set({ recordId: record })
        .where(inArray(files.id, [...ids]))
        .run();
  }
}
