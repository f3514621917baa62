/**
 * Acts: named things to do with a record, or by adding one, that set fields to what was settled beforehand. A grant opens them like
 * the five actions; what an act sets needs no `changes`, and is set by no other way unless `changes` lists it.
 */
import { z } from "zod";
import { err, ok, type Result } from "../result";
import { type Field, isEmpty, kindOf, type Schema, type Value } from "../schema/types";
import { type Operand, operandSchema } from "./condition";
import { operandValue } from "./resolve";
import type { Viewer } from "./viewer";

export const MOST_ACTS = 200;

/** `add` makes a record; `change` is done to one that is seen. */
export const actSchema = z.strictObject({
  id: z.string().regex(/^[a-z][a-z0-9_-]{0,60}$/),
  name: z.string().trim().min(1, "Give the act a name.").max(80, "Keep the name under 80 characters."),
  table: z.string(),
  on: z.enum(["add", "change"]),
  /** Field ids with what they are set to: a literal, something of the viewer, or a date. */
  sets: z.array(z.strictObject({ field: z.string(), to: operandSchema })).max(20),
});
export type Act = z.infer<typeof actSchema>;

/** What would make an act wrong for this schema, each as a sentence. */
export function actProblems(a: Act, schema: Schema): string[] {
  const table = schema.findTable(a.table);
  if (!table) return [`The act ${a.name} is on a table that is gone.`];
  if (a.on === "change" && a.sets.length === 0) return [`The act ${a.name} sets nothing.`];
  return a.sets.flatMap(({ field, to }) => {
    const f = schema.findField(field);
    if (f?.tableId !== table.id) return [`The act ${a.name} sets a field that is not there.`];
    if (f.system) return [`The act ${a.name} sets ${f.name}, which Elkhorn sets itself.`];
    return setProblems(a, f, to);
  });
}

function setProblems(a: Act, f: Field, to: Operand): string[] {
  if (to.kind === "date") return f.type === "date" ? [] : [`The act ${a.name} sets ${f.name} to a day, but it is no date.`];
  if (to.kind === "viewer") return [];
  const values = Array.isArray(to.value) ? to.value : [to.value];
  const fits = values.every((v) => typeof v === kindOf(f).literal) && Array.isArray(to.value) === (kindOf(f).many !== null);
  return fits ? [] : [`The act ${a.name} sets ${f.name} to something that does not fit it.`];
}

/** What the act sets for this viewer, now. A value of the viewer that is empty refuses: half an act is none. */
export function actValues(a: Act, viewer: Viewer): Result<Record<string, Value>, { field: string }> {
  const values: Record<string, Value> = {};
  for (const { field, to } of a.sets) {
    const v = operandValue(to, viewer);
    if (to.kind === "viewer" && isEmpty(v)) return err({ field });
    values[field] = v;
  }
  return ok(values);
}
