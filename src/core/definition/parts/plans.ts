/** What companies can pay for: features, plans with their allowances, things bought once. */
import { z } from "zod";
import type { Schema } from "../../schema/types";
import type { Part } from "../part";
import { id, name } from "./shared";

const plan = z.strictObject({
  id,
  name,
  about: z.string().max(300),
  /** Minor units of the portal's currency. */
  month: z.int().min(0),
  year: z.int().min(0),
  features: z.array(id),
  allowances: z.array(z.strictObject({ table: id, perMonth: z.int().min(0) })),
});
export type Plan = z.infer<typeof plan>;

const shape = z.strictObject({
  features: z.array(z.strictObject({ id, name })),
  plans: z.array(plan),
  offers: z.array(z.strictObject({ id, name, about: z.string().max(300), price: z.int().min(0) })),
});
type Plans = z.infer<typeof shape>;

export const plansPart: Part<Plans> = {
  name: "plans",
  shape,
  migrations: [],
  problems: (d: Plans, schema: Schema) =>
    d.plans.flatMap((p) =>
      p.allowances.filter((a) => !schema.findTable(a.table)).map(() => `The plan ${p.name} has an allowance on a table that is gone.`),
    ),
};
