/** Relations that point to a person or a company: led to another, or emptied, and noted for being taken back. */

import type { Field } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../file/open";
import { pointingFields } from "../making/move";
import type { Journal } from "../tables/journal";
import { hasColumn, linkTableName } from "../tables/physical";

export interface Pointing {
  readonly field: Field;
  readonly records: readonly string[];
}

/** Memberships are not counted: they are no relation of a record. */
export function pointersTo(file: PortalFile, table: string, id: string): Pointing[] {
  return pointingFields(file, table)
    .filter((f) => f.id !== "f_person_companies")
    .map((field) => {
      const sql = hasColumn(field)
        ? `SELECT id FROM ${sqlName(field.tableId)} WHERE ${sqlName(field.id)} = ?`
        : `SELECT record_id FROM ${sqlName(linkTableName(field))} WHERE target_id = ?`;
      return { field, records: file.db.prepare(sql).pluck().all(id) as string[] };
    })
    .filter((p) => p.records.length > 0);
}

/** `to` is who they point to from now on, or nobody. */
export function leadElsewhere(journal: Journal, pointing: readonly Pointing[], from: string, to: string | null): void {
  for (const { field, records } of pointing) {
    if (hasColumn(field)) {
      journal.set(field.tableId, field.id, records, from, to);
      continue;
    }
    const link = linkTableName(field);
    journal.remove(link, "target_id", from);
    if (to) for (const record_id of records) journal.insert(link, { record_id, target_id: to });
  }
}

/** Links that the record itself has: to whoever takes over, or gone. */
export function leaveOwnLinks(journal: Journal, fields: readonly Field[], from: string, to: string | null): void {
  for (const f of fields) {
    if (hasColumn(f) || f.id === "f_person_companies") continue;
    const rows = journal.remove(linkTableName(f), "record_id", from);
    if (to) for (const r of rows) journal.insert(linkTableName(f), { record_id: to, target_id: r.target_id as string });
  }
}

/** Whether a rule names this record itself. Such a rule has to be changed before the record goes. */
export function namedInRules(id: string, definitions: readonly object[]): boolean {
  return definitions.some((d) => JSON.stringify(d).includes(`"${id}"`));
}
