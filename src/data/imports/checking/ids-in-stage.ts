/** Which records the rows of a checked import are of, those that are new included. */
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../../file/open";
import { importPath } from "../reading/paths";

export function idsInStage(file: PortalFile, id: string, table: string): string[] {
  file.db.prepare("ATTACH DATABASE ? AS stage").run(importPath(id, "stage"));
  try {
    return file.db
      .prepare(
        `SELECT coalesce(t.id, r.id) FROM stage.rows r LEFT JOIN ${sqlName(table)} t ON t.rowid = r.known WHERE coalesce(t.id, r.id) <> ''`,
      )
      .pluck()
      .all() as string[];
  } finally {
    file.db.exec("DETACH DATABASE stage");
  }
}
