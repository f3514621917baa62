/** The table and fields that the rows of an import go to; made where they are new. */

import { slugOf } from "@/core/address/slug";
import type { ImportPlan } from "@/core/exchange/import-plan";
import { isLine } from "@/core/schema/fields/natures";
import { singularOf } from "@/core/text/singular";
import type { PortalFile } from "../file/open";
import { addField, addTable, freeTableSlug, type NewField } from "../tables/change";
import { schemaOf } from "../tables/read";
import { plannedColumns, type StagedColumn } from "./reading/planned";

export interface Places {
  readonly tableId: string;
  readonly columns: readonly StagedColumn[];
  /** The field that each column goes to. */
  readonly columnIds: ReadonlyMap<number, string>;
  /** Fields that were made, of a table that was there. */
  readonly madeFields: string[];
}

export function makePlaces(file: PortalFile, plan: ImportPlan): Places {
  const schema = schemaOf(file);
  const columns = plannedColumns(plan, schema);
  const taken = new Set<string>("id" in plan.table ? schema.table(plan.table.id).fields.map((f) => f.slug) : []);
  const spec = (c: StagedColumn): NewField => {
    const slug = slugOf(c.field.name, "field", (s) => taken.has(s));
    taken.add(slug);
    const { choices, ...options } = c.field.options;
    const named = choices ? { choices: choices.map((x) => x.name) } : {};
    return { slug, name: c.field.name, type: c.field.type, options: { ...options, ...named } as never };
  };
  const columnIds = new Map<number, string>();
  if ("id" in plan.table) {
    const tableId = plan.table.id;
    const madeFields: string[] = [];
    for (const c of columns) {
      const id = c.fresh ? addField(file, tableId, spec(c)) : c.field.id;
      if (c.fresh) madeFields.push(id);
      columnIds.set(c.at, id);
    }
    return { tableId, columns, columnIds, madeFields };
  }
  const { name } = plan.table;
  const title = columns.find((c) => c.at === plan.title) ?? columns.find((c) => isLine(c.field)) ?? columns[0]!;
  // The field that names a record is the table's first.
  const ordered = [title, ...columns.filter((c) => c !== title)];
  const fields = ordered.map(spec);
  // What names every record of the file is asked for from now on: a record without a name is a mistake of whoever adds it.
  const named = file.db.prepare(`SELECT 1 FROM stage.rows WHERE state < 2 AND c${title.at} IS NULL LIMIT 1`).get() === undefined;
  if (named) fields[0]!.options = { ...fields[0]!.options, required: true };
  const tableId = addTable(file, { slug: freeTableSlug(schema, name), name, singular: singularOf(name), fields });
  const made = schemaOf(file).table(tableId).fields;
  for (const [i, c] of ordered.entries()) columnIds.set(c.at, made[i]!.id);
  return { tableId, columns, columnIds, madeFields: [] };
}
