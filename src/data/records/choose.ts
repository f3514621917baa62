/** Records that somebody chooses from, by name. */
import type { Condition } from "@/core/access/condition";
import type { FoundRecords, Offered } from "@/core/forms/offered";
import type { Table } from "@/core/schema/types";
import type { Desk } from "./desk";

/** As many are offered at once; a part of the name finds the others. */
const OFFERED = 20;

/**
 * The first records of the table that the viewer sees and whose text holds `words`, those whose name holds them before the others; without
 * words, the first of all.
 */
export function chooseRecords(d: Desk, table: Table, words: string): FoundRecords {
  const only = new Set([table.labelFieldId]);
  const search = words.slice(0, 100);
  const name = d.known(table).find((f) => f.id === table.labelFieldId);
  const named =
    search !== "" && name?.type === "text" ? d.list(table, { condition: contains(name.id, search), limit: OFFERED + 1, only }).records : [];
  const found = named.length > OFFERED ? [] : d.list(table, { ...(search ? { search } : {}), limit: OFFERED + 1, only }).records;
  const all = new Map([...named, ...found].map((r) => [r.id, r]));
  const records = [...all.values()].slice(0, OFFERED).map((r): Offered => ({ value: r.id, label: d.label(table, r) }));
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
