/** A table of its own made of a column that says the same things again and again: a record for each, called by what it says. */

import type { Definition } from "@/core/definition/definition";
import { isRelation } from "@/core/schema/fields/natures";
import type { Field, FieldType, Schema, Table } from "@/core/schema/types";
import { singularOf } from "@/core/text/singular";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import { addTable, freeTableSlug } from "./change";
import { schemaOf } from "./read";

export interface MadeTable {
  readonly name: string;
  /** Whether whoever sees the field goes on seeing what it says; else the new records are the agency's alone. */
  readonly seen: boolean;
}

/** Why none can be made so. */
export function madeTableProblem(schema: Schema, field: Field, type: FieldType, made: MadeTable): string | null {
  const name = made.name.trim();
  if (!isRelation({ type })) return "A column becomes a table of its own as a relation to it.";
  if (isRelation(field)) return "This field points to a table already.";
  if (name === "") return "Give the new table a name.";
  if (name.length > 60) return "Keep the table's name under 60 characters.";
  return schema.tableCalled(name) ? `There is a table called ${name}.` : null;
}

/** Within the transaction of the retype. The field points to it from now on. */
export function withTable(file: PortalFile, made: MadeTable, next: Field): { field: Field; table: Table } {
  const name = made.name.trim();
  const id = addTable(file, {
    slug: freeTableSlug(schemaOf(file), name),
    name,
    singular: singularOf(name),
    fields: [{ slug: "name", name: "Name", type: "text", options: { required: true } }],
  });
  return { field: { ...next, options: { ...next.options, target: id } } as Field, table: schemaOf(file).table(id) };
}

/**
 * The names go on being seen by whoever a grant opened the field to, for as long as that grant holds. The records are shared then: who may
 * see one name may see all of them, which whoever asks for it is told before.
 */
export function openedWith(d: Definition, made: MadeTable, field: string, table: Table): Definition {
  if (!made.seen) return d;
  const opened = d.grants
    .filter((g) => g.actions.includes("see") && g.fields.includes(field))
    .map((g) => ({
      id: `g_${newId().replaceAll("-", "")}`,
      roles: g.roles,
      table: table.id,
      actions: ["see" as const],
      filter: null,
      fields: [table.labelFieldId],
      changes: [],
      ...(g.feature ? { feature: g.feature } : {}),
      ...(g.validFrom ? { validFrom: g.validFrom } : {}),
      ...(g.validUntil ? { validUntil: g.validUntil } : {}),
    }));
  if (opened.length === 0) return d;
  return { ...d, walls: { ...d.walls, [table.id]: { kind: "shared" } }, grants: [...d.grants, ...opened] };
}
