/** A record by its readable address. Whoever may not see the record, or the field that holds the address, is told what they are told of none. */

import type { Condition } from "@/core/schema/condition";
import { isMadeFromAnother } from "@/core/schema/fields/natures";
import type { SeenRecord } from "@/core/schema/seen";
import type { FieldOf, Table } from "@/core/schema/types";
import type { Access } from "../access";
import { listRecords, readRecord } from "./query/read";

const addresses = (table: Table): FieldOf<"readable-address">[] => table.fields.filter((f) => isMadeFromAnother(f));

/**
 * The one record of this address, or that had it before. Addresses are unlike within a company; of somebody who sees several companies'
 * records of one address, none is meant.
 */
export function readByAddress(d: Access, table: Table, address: string): SeenRecord | undefined {
  const slug = address.toLowerCase();
  for (const f of addresses(table)) {
    const condition: Condition = { kind: "test", path: [f.id], operator: "is", operands: [{ kind: "literal", value: slug }] };
    const now = listRecords(d, table.id, { condition, limit: 2 }).records.filter((r) => r.fields[f.id] === slug);
    if (now.length === 1) return now[0];
    if (now.length > 1) continue;
    const before = d.file.db
      .prepare("SELECT record_id FROM sys_old_slugs WHERE field_id = ? AND slug = ?")
      .pluck()
      .all(f.id, slug) as string[];
    const seen = before.flatMap((id) => readRecord(d, table.id, id) ?? []).filter((r) => typeof r.fields[f.id] === "string");
    if (seen.length === 1) return seen[0];
  }
  return undefined;
}

/** Where the record is found by whoever sees it thus: its readable address where it has one that means it alone, else its id. */
export function addressOfRecord(d: Access, table: Table, record: SeenRecord): string {
  for (const f of addresses(table)) {
    const slug = record.fields[f.id];
    if (typeof slug === "string" && slug !== "" && readByAddress(d, table, slug)?.id === record.id) return slug;
  }
  return record.id;
}
