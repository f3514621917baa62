/** Which records a person has read: their own marks, on records that they see. Seeing the portal as somebody else marks nothing. */
import type { Viewer } from "@/core/access/who/viewer";
import type { PortalFile } from "../file/open";
import { rowsOf, runOf } from "../file/text";

/** Which of these records the viewer has read. */
export function readBy(file: PortalFile, viewer: Viewer, records: readonly string[]): ReadonlySet<string> {
  if (!viewer.person || records.length === 0) return NONE;
  const rows = rowsOf(
    file,
    "SELECT record_id FROM sys_reads WHERE person_id = ? AND record_id IN (SELECT value FROM json_each(?))",
    viewer.person.id,
    JSON.stringify(records),
  );
  return new Set(rows.map(([id]) => id as string));
}
const NONE: ReadonlySet<string> = new Set();

/** Marks a record as read or unread for this person alone. */
export function noteRead(file: PortalFile, viewer: Viewer, record: string, read: boolean): void {
  if (!viewer.person || viewer.mode !== "live") return;
  if (read)
    runOf(file, "INSERT OR REPLACE INTO sys_reads (person_id, record_id, at) VALUES (?, ?, ?)", viewer.person.id, record, viewer.now);
  else runOf(file, "DELETE FROM sys_reads WHERE person_id = ? AND record_id = ?", viewer.person.id, record);
}
