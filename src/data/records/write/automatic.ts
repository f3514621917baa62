/** What Elkhorn writes into a record itself: the next number in order, and a readable address from another field. */

import type { Row } from "@/core/access/row";
import { addressOf } from "@/core/address/slug";
import { serialNumber, serialText } from "@/core/schema/fields/automatic";
import { isAutomatic, isCounted, isMadeFromAnother } from "@/core/schema/fields/natures";
import { type FieldOf, isEmpty, type Table, type Value, type Values } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import type { OwnerAccess } from "../../access";
import { readRow } from "../../tables/rows";
import { updateRow } from "../../tables/store";
import { type Given, scopeCompany } from "./incoming";
import { amongOthers, type Of } from "./unique";

/** Values to be stored beside those given; `before` is null of a new record. Called in the transaction of the write. */
export function automaticValues(of: Of, values: Given, before: Values | null): Record<string, Value> {
  const out: Record<string, Value> = {};
  for (const f of of.table.fields) {
    if (isCounted(f)) {
      if (before) continue;
      if (isEmpty(values[f.id])) out[f.id] = nextSerial(of, f);
      else noteSerial(of, f, String(values[f.id]));
    }
    if (isMadeFromAnother(f)) {
      const slug = addressFor(of, f, values, before);
      if (slug !== null) out[f.id] = slug;
    }
  }
  return out;
}

/** After records were changed at once: addresses follow what they are made from. `before` is how they were. */
export function remakeAutomatic(d: OwnerAccess, table: Table, before: readonly Row[], by: { by: string; at: string }): void {
  const { file, policy, viewer } = d;
  for (const was of before) {
    const now = readRow(file, policy.schema, table, was.id)!;
    const values = automaticValues({ file, policy, viewer, table, id: was.id, company: now.companyId }, now.values, was.values);
    if (Object.keys(values).length > 0) updateRow(file, policy.schema, table, was.id, values, by);
  }
}

/** Whether a table has a field that fills itself in. */
export const hasAutomatic = (table: Table): boolean => table.fields.some((f) => isAutomatic(f));

const counterOf = (f: FieldOf<"serial">, company: string | null): string => (f.options.perCompany ? (company ?? "") : "");

function nextSerial({ file, company }: Of, f: FieldOf<"serial">): string {
  const n = file.db
    .prepare("INSERT INTO sys_counters VALUES (?, ?, 1) ON CONFLICT (field_id, company_id) DO UPDATE SET n = n + 1 RETURNING n")
    .pluck()
    .get(f.id, counterOf(f, company)) as number;
  return serialText(n, f.options);
}

/** A number that came from elsewhere is not given out again. */
function noteSerial({ file, company }: Of, f: FieldOf<"serial">, given: string): void {
  const n = serialNumber(given, f.options);
  if (n !== null)
    file.db
      .prepare("INSERT INTO sys_counters VALUES (?, ?, ?) ON CONFLICT (field_id, company_id) DO UPDATE SET n = max(n, excluded.n)")
      .run(f.id, counterOf(f, company), n);
}

function addressFor(of: Of, f: FieldOf<"readable-address">, values: Given, before: Values | null): string | null {
  const { file, policy, table, id } = of;
  const among = amongOthers(of);
  const given = values[f.id];
  const own = given !== undefined && given !== before?.[f.id] && !isEmpty(given) ? String(given) : null;
  const source = f.options.madeFrom;
  const [is, was] = [values[source], before?.[source]];
  if (before && own === null && (!(source in values) || is === was)) return null;
  const company = scopeCompany(policy, table, of.company);
  const taken = file.db.prepare(`SELECT 1 FROM ${sqlName(table.id)} WHERE ${sqlName(`${f.id}_k`)} = ? AND id <> ?${among.where}`);
  const old = file.db.prepare("SELECT 1 FROM sys_old_slugs WHERE field_id = ? AND company_id = ? AND slug = ? AND record_id <> ?");
  const slug = addressOf(own ?? String(is ?? ""), table.singular.toLowerCase().replace(/[^a-z0-9]+/g, "-"), (s) => {
    const held = taken.get(s, id, ...among.bound);
    return held !== undefined || old.get(f.id, company ?? "", s, id) !== undefined;
  });
  const last = before?.[f.id];
  if (!isEmpty(last) && last !== slug)
    file.db.prepare("INSERT OR REPLACE INTO sys_old_slugs VALUES (?, ?, ?, ?)").run(f.id, company ?? "", String(last), id);
  return slug;
}
