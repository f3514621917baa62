/** What an import is to do: where each column goes, what type a new field has, which column names the company. */
import { z } from "zod";
import { MOST_DECIMALS } from "../schema/fields/number";
import { FIELD_TYPES, kindOf, type Schema } from "../schema/types";

export const MOST_BYTES = 50 * 1024 * 1024;
export const MOST_COLUMNS = 200;

/** Types of one value: what a column of a file can become. */
export const IMPORTABLE = FIELD_TYPES.filter((type) => kindOf({ type }).importable);

const order = z.enum(["iso", "day-first", "month-first"]);
const column = z.discriminatedUnion("to", [
  z.object({ to: z.literal("skip") }),
  z.object({ to: z.literal("field"), field: z.string(), order: order.default("iso") }),
  z.object({
    to: z.literal("new"),
    name: z.string().trim().min(1, "Give the field a name.").max(80, "Keep the field's name under 80 characters."),
    type: z.enum(IMPORTABLE),
    target: z.string().optional(),
    order: order.default("iso"),
    choices: z.array(z.string()).max(200).optional(),
    decimals: z.int().min(0).max(MOST_DECIMALS).optional(),
  }),
]);

export const importPlanSchema = z.object({
  /** An existing table's id, or a new table's name. */
  table: z.union([
    z.object({ id: z.string() }),
    z.object({ name: z.string().trim().min(1, "Give the table a name.").max(60, "Keep the table's name under 60 characters.") }),
  ]),
  columns: z.array(column).min(1).max(MOST_COLUMNS),
  /** Index of the column that names the company, or null: then the records belong to nobody until a relation is set. */
  companyColumn: z.int().min(0).nullable(),
  /** Companies that are not there yet: added, or their rows refused. */
  addCompanies: z.boolean(),
  /** ISO 4217: the currency of new money fields. */
  currency: z.string().length(3),
});
export type ImportPlan = z.infer<typeof importPlanSchema>;

export interface RowProblem {
  readonly line: number;
  readonly column: string;
  readonly reason: string;
}

/** What is wrong with a plan for this file and schema, by column index; -1 is the plan as a whole. */
export function planProblems(plan: ImportPlan, header: readonly string[], schema: Schema): { at: number; message: string }[] {
  const problems: { at: number; message: string }[] = [];
  const table = "id" in plan.table ? schema.findTable(plan.table.id) : null;
  if (table === undefined) return [{ at: -1, message: "Choose a table of this portal." }];
  if (table && table.kind !== "ordinary") return [{ at: -1, message: `${table.name} are added under People and companies.` }];
  if (plan.columns.length !== header.length) return [{ at: -1, message: "The mapping does not fit this file." }];
  if (plan.columns.every((c) => c.to === "skip")) problems.push({ at: -1, message: "Every column is left out; choose at least one." });
  const used = new Set<string>();
  for (const [at, c] of plan.columns.entries()) {
    if (c.to === "new" && !table && used.has(c.name.toLowerCase())) problems.push({ at, message: `Two fields are called ${c.name}.` });
    if (c.to === "new" && c.type === "relation" && plan.companyColumn !== at && !schema.findTable(c.target ?? ""))
      problems.push({ at, message: "Choose the table that it points to." });
    if (c.to === "new") used.add(c.name.toLowerCase());
    if (c.to !== "field") continue;
    const field = schema.findField(c.field);
    if (!field || field.tableId !== table?.id || field.system) problems.push({ at, message: "Choose a field of this table." });
    else if (!kindOf(field).importable) problems.push({ at, message: `${field.name} has several values and cannot be imported.` });
    else if (used.has(field.id)) problems.push({ at, message: `Two columns go to ${field.name}.` });
    used.add(c.field);
  }
  const company = plan.companyColumn === null ? null : plan.columns[plan.companyColumn];
  if (company === undefined || company?.to === "skip")
    problems.push({ at: plan.companyColumn ?? -1, message: "The column that names the company is left out." });
  if (company?.to === "field" && schema.findField(company.field)?.options.target !== schema.companies.id) {
    problems.push({ at: plan.companyColumn!, message: "The field for the company must point to Companies." });
  }
  return problems;
}
