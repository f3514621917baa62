/** What an import is met with before it is mapped: the file, its columns, and which of them know records that are there. */

import type { Owner } from "@/core/access/who/viewer";
import { behind, type ImportPlan, keyFields } from "@/core/exchange/import-plan";
import { ok } from "@/core/result";
import { holdsEmail } from "@/core/schema/fields/natures";
import { type Field, kindOf, type Schema, type Table, type Value } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../../file/open";
import { comparedColumn } from "../../records/write/unique";
import { isFolded } from "../../tables/physical";
import { storedValue } from "../../tables/store";
import type { Analysis } from "../reading/receive";

export interface Of {
  readonly file: PortalFile;
  readonly owner: Owner;
  readonly analysis: Analysis;
  readonly fileName: string;
  /** Roles that allow more than their grants say. */
  readonly leads?: readonly string[];
}

/** Letters and digits alone: "E-Mail" and "email" are one name. */
export const bare = (name: string): string => fold(name).replace(/[^\p{L}\p{N}]+/gu, "");

export const isEmpty = (file: PortalFile, table: string): boolean =>
  file.db.prepare(`SELECT 1 FROM ${sqlName(table)} LIMIT 1`).get() === undefined;

/** The column that tells the rows of the file apart, and is a field by which records can be known: one that knows some, where any are. */
export function withKey(plan: ImportPlan, of: Of, schema: Schema, table: Table): ImportPlan {
  if (plan.key !== null) return plan;
  const can = keyFields(table);
  const rank = (f: Field): number =>
    f.options.unique || f.id === "f_person_email" ? 0 : f.id === table.labelFieldId ? 1 : holdsEmail(f) ? 2 : 3;
  const ordinary = table.kind === "ordinary";
  const columns = plan.columns.flatMap((c, at) => {
    const field = c.to === "field" ? schema.findField(c.field) : undefined;
    if (!field || !can.includes(field)) return [];
    const knows = !ordinary || (rank(field) <= 1 && of.analysis.columns[at]!.distinct >= 0.9 && meetsSome(of, plan, field, at));
    return knows ? [{ at, field }] : [];
  });
  columns.sort((a, b) => rank(a.field) - rank(b.field));
  return { ...plan, key: columns[0]?.at ?? null };
}

/** Whether some of the column's values are of records that are there; of an empty table, whether they could be. */
export function meetsSome({ file, analysis }: Of, plan: ImportPlan, field: Field, at: number): boolean {
  const { values } = analysis.columns[at]!;
  // Where a value is put together from two columns, one of them alone tells nothing.
  if (isEmpty(file, field.tableId) || behind(plan.columns, at).length > 0) return true;
  const stored = values.flatMap((v) => {
    const read = isFolded(field) ? ok(fold(v.normalize("NFC").trim())) : kindOf(field).parse([v], field);
    return read.ok && read.value !== null ? [isFolded(field) ? read.value : storedValue(read.value as Value)] : [];
  });
  const known = `SELECT 1 FROM ${sqlName(field.tableId)} WHERE ${sqlName(comparedColumn(field))} IN (SELECT value FROM json_each(?)) LIMIT 1`;
  return file.db.prepare(known).get(JSON.stringify(stored)) !== undefined;
}
