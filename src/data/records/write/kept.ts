/** Relations to several, of which the writer sees only some: the entries that they do not see stay in. */

import { linked } from "@/core/access/row";
import { pointsToSeveral } from "@/core/schema/fields/natures";
import { isLinks } from "@/core/schema/seen";
import type { Table } from "@/core/schema/types";
import type { Access } from "../../access";
import { readRecord } from "../query/read";
import type { Given } from "./incoming";

/** Ids that stay though the writer, who gives the list anew, neither sees nor gives them. By field. */
export function keptUnseen(d: Access, table: Table, id: string, before: Given, given: Given): Record<string, string[]> {
  const lists = d.viewer.kind === "owner" ? [] : Object.keys(given).filter((f) => pointsToSeveral(d.policy.schema.field(f)));
  if (lists.length === 0) return {};
  const seen = readRecord(d, table.id, id);
  const kept = lists.flatMap((f): [string, string[]][] => {
    const shown = seen?.fields[f];
    if (!isLinks(shown) || !shown.some((l) => "withheld" in l)) return [];
    const visible = new Set(shown.flatMap((l) => ("id" in l ? [l.id] : [])));
    const now = linked(given[f] ?? null);
    return [[f, linked(before[f] ?? null).filter((x) => !visible.has(x) && !now.includes(x))]];
  });
  return Object.fromEntries(kept);
}

/** What is stored: the lists as given, followed by the entries that the viewer does not see. */
export const withKept = (given: Given, kept: Readonly<Record<string, readonly string[]>>): Given => ({
  ...given,
  ...Object.fromEntries(Object.entries(kept).map(([field, ids]) => [field, [...linked(given[field] ?? null), ...ids]])),
});
