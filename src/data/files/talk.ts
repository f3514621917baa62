/** Files of conversations. They hang on a message, and are had by exactly whoever reads it. */
import { inArray } from "drizzle-orm";
import type { Field, Table } from "@/core/schema/types";
import type { Access } from "../access";
import { files } from "../file/portal-tables";
import { uploader } from "./uploader";

const BEFORE = "talk:";

/** Uploads are for a field: conversations about a table's records are one of their own, which no record has. */
export const talkFieldId = (table: Table): string => BEFORE + table.id;
/** Id of the table whose conversations a made-up field of files stands for; null for any other field. */
export const talkTableId = (fieldId: string): string | null => (fieldId.startsWith(BEFORE) ? fieldId.slice(BEFORE.length) : null);

/** The made-up field that files in conversations about a table's records belong to. */
export const talkField = (table: Table): Field => ({
  id: talkFieldId(table),
  tableId: table.id,
  slug: "talk",
  name: "Conversation",
  type: "files",
  options: {},
  system: true,
});

/** Ids of uploads that may go with what is said: sent by the same person for this conversation, and used nowhere yet. Null where any is not. */
export function claimTalkFiles(d: Access, table: Table, record: string, ids: readonly string[]): string[] | null {
  const own = [...new Set(ids)];
  if (own.length === 0) return [];
  const rows = d.file.orm.select().from(files).where(inArray(files.id, own)).all();
  const free = rows.filter(
    (r) => r.fieldId === talkFieldId(table) && r.recordId === null && r.hash !== null && r.madeBy === uploader(d.viewer),
  );
  if (free.length !== own.length) return null;
  d.file.orm.update(files).set({ recordId: record }).where(inArray(files.id, own)).run();
  return own;
}
