/** What of the rules speaks of a table or field: what can follow its removal, and what it would break. */

import type { Definition } from "@/core/definition/definition";
import { testsOf } from "@/core/schema/condition";
import type { Schema } from "@/core/schema/types";

/** The rules without a field that they only list. Filters, walls, acts and safeguards that test it are not touched: they would mean more. */
export const withoutField = (d: Definition, field: string): Definition => ({
  ...d,
  grants: d.grants.map((g) => ({
    ...g,
    fields: g.fields.filter((f) => f !== field),
    changes: g.changes.filter((f) => f !== field),
    ...(g.namesOnly ? { namesOnly: g.namesOnly.filter((f) => f !== field) } : {}),
  })),
});

/** The rules without all that is of a table: its wall, its grants and acts. */
export const withoutTable = (d: Definition, table: string): Definition => ({
  ...d,
  walls: Object.fromEntries(Object.entries(d.walls).filter(([id]) => id !== table)),
  grants: d.grants.filter((g) => g.table !== table),
  acts: d.acts.filter((a) => a.table !== table),
});

/** What of the rules cannot do without these fields, each as words: "the filter of a grant on Signs". */
export function brokenWithout(d: Definition, fields: ReadonlySet<string>, schema: Schema): string[] {
  const name = (table: string): string => schema.findTable(table)?.name ?? "a table";
  const broken = new Set<string>();
  for (const [table, wall] of Object.entries(d.walls))
    if (wall.kind === "owned" && wall.path.some((f) => fields.has(f))) broken.add(`the wall of ${name(table)}, which goes through it`);
  for (const g of d.grants)
    if (testsOf(g.filter).some((t) => t.path.some((f) => fields.has(f)) || viewerField(t.operands, fields)))
      broken.add(`the filter of a grant on ${name(g.table)}`);
  for (const a of d.acts) {
    if (a.sets.some((s) => fields.has(s.field))) broken.add(`the act ${a.name}, which sets it`);
    if (a.accepts?.some((f) => fields.has(f))) broken.add(`the act ${a.name}, by which it is accepted`);
  }
  for (const s of d.safeguards) {
    const speaks =
      (s.claim.kind === "field" && fields.has(s.claim.field)) || (s.claim.kind === "others" && s.claim.way.some((f) => fields.has(f)));
    if (speaks) broken.add(`a safeguard about ${name(s.table)}`);
  }
  return [...broken];
}

const viewerField = (operands: readonly { kind: string; field?: string | null }[], fields: ReadonlySet<string>): boolean =>
  operands.some((o) => o.kind === "viewer" && o.field && fields.has(o.field));
