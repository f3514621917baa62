/** Plans of imports for tests: what is not said is as a new import begins. */
import { type ImportPlan, importPlanSchema, type PlanColumn } from "@/core/exchange/import-plan";

type Given = Omit<Partial<ImportPlan>, "columns"> & {
  columns: PlanColumn[];
  /** The column that names the company of a new table's records. */
  company?: number | null;
  /** Companies that are not there yet are made. */
  add?: boolean;
};

export const textColumn = (name: string): PlanColumn => ({ to: "new", name, type: "text", order: "iso" });
export const toField = (field: string, more: object = {}): PlanColumn => ({ to: "field", field, order: "iso", ...more });

export function planOf({ columns, company = null, add = true, ...more }: Given): ImportPlan {
  const owned = columns.map((c, i): PlanColumn => {
    if (i !== company) return c;
    if (c.to === "new") return { to: "new", name: c.name, type: "relation", target: "t_companies", order: "iso", add };
    return c.to === "field" ? { ...c, add } : c;
  });
  const whose = company === null ? {} : { whose: { kind: "column", at: company } };
  return importPlanSchema.parse({ table: { name: "Things" }, columns: owned, currency: "GBP", ...whose, ...more });
}
