/** What an import is to do: where each column goes, what type a new field has, which column names the company. */
import { z } from "zod";
import { FIELD_TYPES } from "../schema/types";

export const MOST_BYTES = 50 * 1024 * 1024;
export const MOST_COLUMNS = 200;

const order = z.enum(["iso", "day-first", "month-first"]);
const column = z.discriminatedUnion("to", [
  z.object({ to: z.literal("skip") }),
  z.object({ to: z.literal("field"), field: z.string(), order: order.default("iso") }),
  z.object({
    to: z.literal("new"),
    name: z.string().trim().min(1, "Give the field a name.").max(80, "Keep the field's name under 80 characters."),
    type: z.enum(FIELD_TYPES).exclude(["relations", "choices"]),
    target: z.string().optional(),
    order: order.default("iso"),
    choices: z.array(z.string()).max(200).optional(),
  }),
]);

export const importPlanSchema = z.object({
  /** An existing table's id, or a new table's name. */
  table: z.union([z.object({ id: z.string() }), z.object({ name: z.string().trim().min(1, "Give the table a name.").max(60, "Keep the table's name under 60 characters.") })]),
  columns: z.array(column).min(1).max(MOST_COLUMNS),
  /** Index of the column that names the company, or null: then the records belong to nobody until a relation is set. */
  companyColumn: z.int().min(0).nullable(),
  /** Companies that are not there yet: added, or their rows refused. */
  addCompanies: z.boolean(),
});
export type ImportPlan = z.infer<typeof importPlanSchema>;

export interface RowProblem {
  readonly line: number;
  readonly column: string;
  readonly reason: string;
}
