/** Relations that are put away still hold up what they point to, until they are emptied: SQLite keeps foreign keys of every column. */

import { eq, isNotNull } from "drizzle-orm";
import { isRelation } from "@/core/schema/fields/natures";
import { targetOf } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { hasColumn } from "./physical";
import { fieldOf } from "./read";

/** Empties them where they point to these records of the table; `ids` is SQL that selects ids, with its values. */
export function letGoOfAway(file: PortalFile, tableId: string, ids: string, ...values: unknown[]): void {
  const away = file.orm.select().from(t.fields).where(isNotNull(t.fields.away)).all().map(fieldOf);
  const inAway = file.orm
    .select({ field: t.fields })
    .from(t.fields)
    .innerJoin(t.tables, eq(t.tables.id, t.fields.tableId))
    .where(isNotNull(t.tables.away))
    .all()
    .map((r) => fieldOf(r.field));
  const columns = [...away, ...inAway].filter((f) => isRelation(f) && targetOf(f) === tableId && hasColumn(f) && !f.options.kept);
  for (const f of columns)
    file.db.prepare(`UPDATE ${sqlName(f.tableId)} SET ${sqlName(f.id)} = NULL WHERE ${sqlName(f.id)} IN (${ids})`).run(...values);
}
