/** Who may see and do what: roles, walls, grants, acts, and the safeguards that must hold. */
import { z } from "zod";
import { actSchema, MOST_ACTS } from "../../access/act";
import { actProblems } from "../../access/acts";
import { ACTIONS, EVERYONE, everyoneRole, roleCycles, type Wall } from "../../access/rules";
import { MOST_SAFEGUARDS, safeguardSchema } from "../../access/safeguards";
import { conditionProblems, wallProblems } from "../../access/sound";
import { conditionSchema } from "../../schema/condition";
import type { Schema } from "../../schema/types";
import type { Part } from "../part";
import { id, name } from "./shared";

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
  actions: z.array(z.enum(ACTIONS)),
  /** Ids of acts that it opens. */
  acts: z.array(id).max(MOST_ACTS).optional(),
  filter: conditionSchema.nullable(),
  fields: z.array(id),
  changes: z.array(id),
  /** Fields of files of which only the names are given. */
  namesOnly: z.array(id).optional(),
  feature: z.string().nullish(),
  validFrom: day,
  validUntil: day,
});

const shape = z.strictObject({
  roles: z.array(roleSchema),
  walls: z.record(id, wallSchema),
  grants: z.array(
    grantSchema.refine((g) => g.actions.length + (g.acts?.length ?? 0) > 0, { message: "Choose at least one thing that may be done." }),
  ),
  acts: z.array(actSchema).max(MOST_ACTS, `A portal has ${MOST_ACTS} acts at the most.`),
  safeguards: z.array(safeguardSchema).max(MOST_SAFEGUARDS, `A portal keeps ${MOST_SAFEGUARDS} safeguards at the most.`),
});
type Access = z.infer<typeof shape>;

export const accessPart: Part<Access & { features: readonly { id: string }[] }> = {
  name: "access",
  shape,
  migrations: [
    // 2: safeguards and acts are always there, and so is the role that everyone in a company has.
    (old) => {
      const roles = old.roles as { id: string }[];
      return {
        ...old,
        safeguards: old.safeguards ?? [],
        acts: [],
        roles: roles.some((r) => r.id === EVERYONE) ? roles : [...roles, { ...everyoneRole, includes: [] }],
      };
    },
  ],
  problems(d, schema) {
    const problems: string[] = [];
    const roleIds = new Set(d.roles.map((r) => r.id));
    for (const r of roleCycles(d.roles)) problems.push(`The role ${d.roles.find((x) => x.id === r)!.name} includes itself through others.`);
    const everyone = d.roles.find((r) => r.id === EVERYONE);
    if (everyone && (everyone.includes.length > 0 || everyone.side !== "client" || everyone.companyId))
      problems.push(`The role ${everyone.name} is had by everyone in a company, and includes no other.`);
    for (const [table, wall] of Object.entries(d.walls)) problems.push(...wallProblems(wall, table, schema));
    for (const a of d.acts) problems.push(...actProblems(a, schema));
    for (const g of d.grants) problems.push(...grantProblems(g, d, roleIds, schema));
    return problems;
  },
};

function grantProblems(
  g: z.infer<typeof grantSchema>,
  d: Access & { features: readonly { id: string }[] },
  roleIds: ReadonlySet<string>,
  schema: Schema,
): string[] {
  const problems: string[] = [];
  const table = schema.findTable(g.table);
  const place = `The grant on ${table?.name ?? g.table}`;
  if (!table) problems.push(`${place} names a table that is gone.`);
  if (g.roles.some((r) => !roleIds.has(r))) problems.push(`${place} names a role that is gone.`);
  if (g.feature && !d.features.some((f) => f.id === g.feature)) problems.push(`${place} needs a feature that is gone.`);
  if ((g.acts ?? []).some((id) => d.acts.find((a) => a.id === id)?.table !== g.table))
    problems.push(`${place} opens an act that is not one of this table.`);
  for (const f of [...g.fields, ...g.changes])
    if (schema.findField(f)?.tableId !== g.table) problems.push(`${place} lists a field of another table.`);
  if (table) problems.push(...conditionProblems(g.filter, g.table, schema).map((p) => `${place}: ${p}`));
  return problems;
}
