/** Records that somebody chooses from, by name. */

import type { Condition } from "@/core/schema/condition";
import { isLine } from "@/core/schema/fields/natures";
import type { FoundRecords, Offered } from "@/core/schema/offered";
import type { SeenRecord } from "@/core/schema/seen";
import type { Table } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import type { Desk } from "./desk";

/** As many are offered at once; a part of the name finds the others. */
const OFFERED = 20;

/**
 * The first records of the table that the viewer sees and whose text holds `words`, those whose name holds them before the others; without
 * words, the first of all.
 */
export function chooseRecords(d: Desk, table: Table, words: string): FoundRecords {
  // Two companies of one name are told apart by their addresses.
  const address = table.kind === "companies" ? d.known(table).find((f) => f.id === "f_company_slug") : undefined;
  const only = new Set([table.labelFieldId, ...(address ? [address.id] : [])]);
  const search = words.slice(0, 100);
  const name = d.known(table).find((f) => f.id === table.labelFieldId);
  const named =
    search !== "" && name !== undefined && isLine(name)
      ? d.list(table, { condition: contains(name.id, search), limit: OFFERED + 1, only }).records
      : [];
  const found = named.length > OFFERED ? [] : d.list(table, { ...(search ? { search } : {}), limit: OFFERED + 1, only }).records;
  const all = new Map([...named, ...found].map((r) => [r.id, r]));
  const shown = [...all.values()].slice(0, OFFERED).map((r) => ({ r, label: d.label(table, r) }));
  const times = new Map<string, number>();
  for (const { label } of shown) times.set(fold(label), (times.get(fold(label)) ?? 0) + 1);
  const apart = (r: SeenRecord): string => (address && r.fields[address.id] ? ` (${r.fields[address.id]})` : "");
  const records = shown.map(({ r, label }): Offered => ({ value: r.id, label: times.get(fold(label))! > 1 ? label + apart(r) : label }));
  return { records, more: all.size > OFFERED };
}

/** Those of these ids that the viewer sees, with their names, in the order given. */
export function namedRecords(d: Desk, table: Table, ids: readonly string[]): Offered[] {
  return ids.flatMap((id) => {
    const record = d.read(table, id);
    return record ? [{ value: id, label: d.label(table, record) }] : [];
  });
}

const contains = (field: string, value: string): Condition => ({
  kind: "test",
  path: [field],
  operator: "contains",
  operands: [{ kind: "literal", value }],
});
