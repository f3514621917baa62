/**
 * A level below the company: sites or branches that people are tied to by a relation, and a role that sees those of its own, with what
 * belongs to them. What comes of it are ordinary grants; nothing else in the rules knows of levels.
 */

import type { Policy } from "../access/policy";
import type { Definition } from "../definition/definition";
import { type Condition, SELF } from "../schema/condition";
import { pointsToOne } from "../schema/fields/natures";
import type { FieldOf, Schema, Table } from "../schema/types";

type Grant = Definition["grants"][number];

/** Tables that can be one: each record belongs to a company by a relation of its own. */
export function levelProblem(policy: Policy, table: Table | undefined): string | null {
  if (!table) return "This table is gone.";
  if (table.kind !== "ordinary") return `${table.name} are no level below the company.`;
  const wall = policy.wall(table.id);
  return wall.kind === "owned" && wall.path.length === 1
    ? null
    : `${table.name} must belong to a company each, by a relation of their own.`;
}

/** Tables whose records belong to one of the level's, by the relation that says to which. */
export const below = (schema: Schema, level: Table): { table: Table; field: FieldOf<"relation"> }[] =>
  schema.tables
    .filter((t) => t.kind === "ordinary" && t.id !== level.id)
    .flatMap((table) => {
      const field = table.fields.filter((f) => pointsToOne(f)).find((f) => f.options.target === level.id && !f.options.kept);
      return field ? [{ table, field }] : [];
    });

/** Fields of a table that some client role reads already, and always its name. A new role begins with these and no others. */
export function readByClients(d: Definition, table: Table): string[] {
  const clients = new Set(d.roles.filter((r) => r.side === "client").map((r) => r.id));
  const read = new Set(
    d.grants
      .filter((g) => g.table === table.id && g.actions.includes("see") && g.roles.some((r) => clients.has(r)))
      .flatMap((g) => g.fields),
  );
  return table.fields.map((f) => f.id).filter((id) => id === table.labelFieldId || read.has(id));
}

/** Seeing one's own of the level, and what belongs to those. `ties` is the field of People that ties to it. */
export function levelGrants(d: Definition, schema: Schema, level: Table, ties: string, role: string, newId: () => string): Grant[] {
  const mine = (path: string[]): Condition => ({
    kind: "test",
    path,
    operator: "any-of",
    operands: [{ kind: "viewer", of: "person", field: ties }],
  });
  const see = (table: Table, filter: Condition): Grant => ({
    id: newId(),
    roles: [role],
    table: table.id,
    actions: ["see"],
    filter,
    fields: readByClients(d, table),
    changes: [],
  });
  return [see(level, mine([SELF])), ...below(schema, level).map(({ table, field }) => see(table, mine([field.id])))];
}
