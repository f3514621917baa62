/** Files that a field of a record held before: they stay with its history, which is the agency's. */
import { and, desc, eq, isNotNull } from "drizzle-orm";
import type { Owner } from "@/core/access/who/viewer";
import type { Field } from "@/core/schema/types";
import type { PortalFile } from "../file/open";
import { files } from "../file/portal-tables";
import { addressOf } from "./seen";

export interface EarlierFile {
  readonly id: string;
  readonly name: string;
  readonly type: string;
  readonly bytes: number;
  /** When it came, and when it was taken out; null where that is not noted. ISO 8601 in UTC. */
  readonly from: string;
  readonly until: string | null;
  readonly at: string;
}

/** The last to come first. `held` are those that the field has now. */
export function earlierFiles(file: PortalFile, _owner: Owner, field: Field, record: string, held: readonly string[]): EarlierFile[] {
  const rows = file.orm
    .select()
    .from(files)
    .where(and(eq(files.recordId, record), eq(files.fieldId, field.id), isNotNull(files.hash)))
    .orderBy(desc(files.madeAt))
    .all();
  const taken = file.db
    .prepare(
      `SELECT max(e.at) FROM sys_events e JOIN sys_event_values v ON v.event_id = e.id
       WHERE e.record_id = @record AND instr(json_extract(v."before", '$.' || @field), @id) > 0
         AND instr(coalesce(json_extract(v."after", '$.' || @field), ''), @id) = 0`,
    )
    .pluck();
  return rows
    .filter((r) => !held.includes(r.id))
    .map((r) => {
      const until = taken.get({ record, field: field.id, id: r.id }) as number | null;
      return {
        id: r.id,
        name: r.name,
        type: r.type ?? "",
        bytes: r.bytes,
        from: r.madeAt,
        until: until === null ? null : new Date(until).toISOString(),
        at: addressOf(field, record, r),
      };
    });
}
