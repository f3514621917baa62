/** A person or company that another took over, or that was removed, as they were: with places, way in, relations and files. */

import type { Owner } from "@/core/access/who/viewer";
import { actorOf } from "@/core/events/event";
import { err, ok, type Result } from "@/core/result";
import { sqlName } from "@/core/text/sql-name";
import { published } from "../../definition/published";
import { record } from "../../events/record";
import type { PortalFile } from "../../file/open";
import { storeCompanies } from "../../tables/company";
import { type Noted, takeBack } from "../../tables/journal";

/** What the bin keeps of a person or company that another took over, or that was removed. */
export interface Parted {
  readonly parting: "merged" | "removed";
  /** Who took over, or whom it was handed to. */
  readonly to: string | null;
  readonly noted: readonly Noted[];
}

export const isParted = (body: object): body is Parted => "parting" in body;

/** Within the transaction of the caller, which is undone where this refuses. */
export function restoreParted(file: PortalFile, owner: Owner, tableId: string, id: string, body: Parted): Result<null, string> {
  file.db.pragma("defer_foreign_keys = ON");
  try {
    takeBack(file.db, body.noted);
  } catch (e) {
    if (!String((e as { code?: unknown }).code).startsWith("SQLITE_CONSTRAINT")) throw e;
    return err("Somebody else has their e-mail address now. Change that first.");
  }
  if (file.db.prepare(`SELECT 1 FROM ${sqlName(tableId)} WHERE id = ?`).get(id) === undefined)
    return err("Somebody else has their e-mail address now, or their name. Change that first.");
  const { policy } = published(file);
  for (const x of policy.schema.tables) storeCompanies(file, policy, x.id);
  record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind: "record-restored", table: tableId, record: id });
  return ok(null);
}
