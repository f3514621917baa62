/** A portal's definition: one document with a draft and numbered published versions. Parsed here and nowhere else. */
import { z } from "zod";
import { conditionSchema } from "./access/condition";
import { ACTIONS, roleCycles, type Wall } from "./access/rules";
import { MOST_SAFEGUARDS, safeguardSchema } from "./access/safeguards";
import { conditionProblems, wallProblems } from "./access/sound";
import type { Schema } from "./schema/types";

const id = z.string().regex(/^[a-z][a-z0-9_-]{0,60}$/);
const name = z.string().trim().min(1, "Give it a name.").max(80, "Keep the name under 80 characters.");
const colour = z.string().regex(/^#[0-9a-fA-F]{6}$/, "Write the colour as #RRGGBB.");
const day = z.iso.date().nullish();

export const roleSchema = z.strictObject({
  id,
  name,
  side: z.enum(["agency", "client", "visitor"]),
  includes: z.array(id).max(20),
  companyId: z.string().nullish(),
  about: z.string().max(300).optional(),
});

export const wallSchema: z.ZodType<Wall> = z.union([
  z.strictObject({ kind: z.literal("owned"), path: z.array(id).max(4) }),
  z.strictObject({ kind: z.literal("shared") }),
  z.strictObject({ kind: z.literal("agency-only") }),
]);

export const grantSchema = z.strictObject({
  id,
  roles: z.array(id).min(1, "Choose at least one role."),
  table: id,
  actions: z.array(z.enum(ACTIONS)).min(1, "Choose at least one thing that may be done."),
  filter: conditionSchema.nullable(),
  fields: z.array(id),
  changes: z.array(id),
  feature: z.string().nullish(),
  validFrom: day,
  validUntil: day,
});

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

export const definitionSchema = z.strictObject({
  portal: z.strictObject({ name, locale: z.string().max(20), timeZone: z.string().max(60), currency: z.string().length(3) }),
  roles: z.array(roleSchema),
  walls: z.record(id, wallSchema),
  grants: z.array(grantSchema),
  /** Absent from versions that were published before there were any. */
  safeguards: z.array(safeguardSchema).max(MOST_SAFEGUARDS, `A portal keeps ${MOST_SAFEGUARDS} safeguards at the most.`).default([]),
  features: z.array(z.strictObject({ id, name })),
  plans: z.array(plan),
  offers: z.array(z.strictObject({ id, name, about: z.string().max(300), price: z.int().min(0) })),
  brand: z.strictObject({
    colour,
    ground: colour,
    monogram: z.string().min(1).max(3),
    motto: z.string().max(120),
    contact: z.string().max(120),
  }),
});
export type Definition = z.infer<typeof definitionSchema>;

/** What would make a definition wrong for this schema, each as a sentence. Publishing waits until there is none. */
export function definitionProblems(d: Definition, schema: Schema): string[] {
  const problems: string[] = [];
  const roleIds = new Set(d.roles.map((r) => r.id));
  for (const r of roleCycles(d.roles)) problems.push(`The role ${d.roles.find((x) => x.id === r)!.name} includes itself through others.`);
  for (const [table, wall] of Object.entries(d.walls)) problems.push(...wallProblems(wall, table, schema));
  for (const g of d.grants) {
    const table = schema.findTable(g.table);
    const place = `The grant on ${table?.name ?? g.table}`;
    if (!table) problems.push(`${place} names a table that is gone.`);
    if (g.roles.some((r) => !roleIds.has(r))) problems.push(`${place} names a role that is gone.`);
    if (g.feature && !d.features.some((f) => f.id === g.feature)) problems.push(`${place} needs a feature that is gone.`);
    for (const f of [...g.fields, ...g.changes]) {
      if (schema.findField(f)?.tableId !== g.table) problems.push(`${place} lists a field of another table.`);
    }
    if (table) problems.push(...conditionProblems(g.filter, g.table, schema).map((p) => `${place}: ${p}`));
  }
  return problems;
}
