/** Where the columns of a plan go: fields that are there, and fields that are still to be made. */

import { behind, type FillingColumn, fills, type ImportPlan, isRelationType } from "@/core/exchange/import-plan";
import { unquoted } from "@/core/exchange/write-csv";
import type { DateOrder } from "@/core/schema/fields/kind";
import { type Field, kindOf, type Schema } from "@/core/schema/types";

export interface StagedColumn {
  /** Index in the file. */
  readonly at: number;
  readonly field: Field;
  readonly order: DateOrder;
  readonly mark?: "." | ",";
  readonly folded: boolean;
  /** Still to be made: until then the field has a provisional id. */
  readonly fresh: boolean;
  readonly plan: FillingColumn;
  /** Columns whose words stand behind its own. */
  readonly behind: readonly number[];
}

export function plannedColumns(plan: ImportPlan, schema: Schema): StagedColumn[] {
  return plan.columns.flatMap((c, at): StagedColumn[] => {
    if (!fills(c)) return [];
    const how = { at, order: c.order, ...(c.mark ? { mark: c.mark } : {}), plan: c, behind: behind(plan.columns, at) };
    if (c.to === "field") {
      const field = schema.field(c.field);
      return [{ ...how, field, folded: kindOf(field).folds, fresh: false }];
    }
    const { type } = c;
    // Choices that are still to be made are their own ids; they get lasting ones with the field.
    const choices = (c.choices ?? []).map((name) => ({ id: name, name }));
    const options = kindOf({ type }).options({
      ...(c.target === undefined ? {} : { target: c.target }),
      ...(c.decimals === undefined ? {} : { decimals: c.decimals }),
      ...(c.plain ? { plain: true } : {}),
      choices,
      currency: c.currency ?? plan.currency,
    });
    const unique = plan.key === at && !("id" in plan.table) && !isRelationType(type);
    const field = {
      id: `new_${at}`,
      tableId: "",
      slug: "",
      name: c.name,
      type,
      options: unique ? { ...options, unique } : options,
      system: false,
    } as Field;
    return [{ ...how, field, folded: kindOf({ type }).folds, fresh: true }];
  });
}

/** The column whose record says whose a row is, if any. */
export function ownerColumn(plan: ImportPlan, columns: readonly StagedColumn[], wall: readonly string[] | null): StagedColumn | undefined {
  const { whose } = plan;
  if (whose.kind === "column") return columns.find((c) => c.at === whose.at);
  const first = wall?.[0];
  return first === undefined ? undefined : columns.find((c) => c.field.id === first);
}

/** What stands in a cell for a record or a choice that is still to be made begins so. */
export const MARK = "new:";

/** Where the cell of each column stands in a row that was read: words are followed by their folded form. */
export function placesOf(columns: readonly StagedColumn[]): number[] {
  let place = 0;
  return columns.map((c) => {
    const at = place;
    place += c.folded ? 2 : 1;
    return at;
  });
}

/** What a row says in the column, and in those that stand behind it. */
export function textAt(cells: readonly string[], c: StagedColumn): string {
  const own = unquoted(cells[c.at] ?? "");
  if (c.behind.length === 0) return own;
  return [own, ...c.behind.map((at) => unquoted(cells[at] ?? ""))]
    .map((t) => t.trim())
    .filter(Boolean)
    .join(" ");
}
