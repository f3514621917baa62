/** Values of a record as another system takes them: as text, read there as it is written there. */

import type { PlanColumn } from "@/core/exchange/import-plan";
import { toCell } from "@/core/exchange/present";
import { isRelation } from "@/core/schema/fields/natures";
import type { SeenRecord } from "@/core/schema/seen";
import { type Field, kindOf, type Table } from "@/core/schema/types";
import type { SourceRow } from "@/services/sources/contract";
import type { Feed } from "../feeds";

/** A field that can go there: filled by one column alone, and named there by what it holds. */
export interface Outgoing {
  readonly field: Field;
  readonly column: string;
  readonly reads: Extract<PlanColumn, { to: "field" }>;
}

/** All that could go there. The key is the other system's own. */
export function canGoOut(feed: Feed, table: Table, fixed: readonly string[] = []): Outgoing[] {
  const { plan, header } = feed;
  if (!plan || !header) return [];
  return plan.columns.flatMap((c, at): Outgoing[] => {
    if (c.to !== "field" || at === plan.key || fixed.includes(header[at]!)) return [];
    if (plan.columns.some((x) => x.to === "behind" && x.at === at)) return [];
    const field = table.fields.find((f) => f.id === c.field);
    if (!field || !kindOf(field).importable || (isRelation(field) && c.by)) return [];
    return [{ field, column: header[at]!, reads: c }];
  });
}

const ISO_DATE = /^(\d{4})-(\d\d)-(\d\d)$/;

/** Numbers and dates as the column there has them. */
export function textFor(o: Outgoing, r: SeenRecord): string {
  const cell = toCell(o.field, r.fields[o.field.id]);
  if (cell === null) return "";
  if (typeof cell === "number") return o.reads.mark === "," ? String(cell).replace(".", ",") : String(cell);
  const date = ISO_DATE.exec(String(cell));
  if (date && o.reads.order === "day-first") return `${date[3]}/${date[2]}/${date[1]}`;
  if (date && o.reads.order === "month-first") return `${date[2]}/${date[3]}/${date[1]}`;
  return String(cell);
}

export const rowFor = (out: readonly Outgoing[], r: SeenRecord): SourceRow => Object.fromEntries(out.map((o) => [o.column, textFor(o, r)]));
