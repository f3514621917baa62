/**
 * Values that no two records share. On owned tables that is so within each company, so that a refusal tells nothing of another's records
 * (see docs/decisions/0022): the sentence never says whose value it met.
 */

import { sideOf } from "@/core/access/who/viewer";
import { type Field, isEmpty, type Table } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { sqlName } from "@/core/text/sql-name";
import type { Access } from "../../access";
import { isFolded, keyName } from "../../tables/physical";
import { storedValue } from "../../tables/store";
import { type Given, scopeCompany } from "./incoming";

/** A record among the others of its table, as somebody writes it. */
export interface Of extends Pick<Access, "file" | "policy" | "viewer"> {
  readonly table: Table;
  readonly id: string;
  /** Whose the record is. */
  readonly company: string | null;
}

/**
 * Which others it may be told from, as the end of a WHERE on its table. Of owned tables those of its company. People and companies are
 * unlike all others where the agency writes; a client's refusal would tell of other companies', so theirs are compared with their own alone.
 */
export function amongOthers({ policy, viewer, table, id, company }: Of): { where: string; bound: (string | null)[] } {
  const scope = scopeCompany(policy, table, company);
  if (scope !== undefined) return { where: " AND company_id IS ?", bound: [scope] };
  const side = sideOf(viewer);
  if (table.kind === "ordinary" || side === "owner" || side === "agency") return { where: "", bound: [] };
  if (table.kind === "companies") return { where: " AND 0", bound: [] };
  const mates = "SELECT m.person_id FROM sys_memberships m JOIN sys_memberships o ON o.company_id = m.company_id WHERE o.person_id = ?";
  return { where: ` AND id IN (${mates})`, bound: [id] };
}

/** Fields whose values no two records may share. */
export const uniqueFields = (table: Table): Field[] => table.fields.filter((f) => f.options.unique && !f.options.kept);

/** The column by which a field's values are told apart. */
export const comparedColumn = (f: Field): string => (isFolded(f) ? keyName(f.id) : f.id);

/** What is wrong with these values beside all other records, by field. */
export function taken(of: Of, values: Given): { field: string; message: string }[] {
  const { file, table, id } = of;
  const among = amongOthers(of);
  return uniqueFields(table).flatMap((f) => {
    const v = values[f.id];
    if (isEmpty(v)) return [];
    const stored = storedValue(v);
    const wanted = isFolded(f) ? fold(String(stored)) : stored;
    const where = `${sqlName(comparedColumn(f))} = ? AND id <> ?${among.where}`;
    const held = file.db.prepare(`SELECT 1 FROM ${sqlName(table.id)} WHERE ${where}`).get(wanted, id, ...among.bound);
    return held === undefined ? [] : [{ field: f.id, message: `${f.name} must be unlike every other, and this one is taken.` }];
  });
}
