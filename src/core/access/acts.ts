/** What acts set, and what would make one wrong. */
import { err, ok, type Result } from "../result";
import type { Operand } from "../schema/condition";
import { type Field, isEmpty, kindOf, type Schema, type Value } from "../schema/types";
import type { Act } from "./act";
import { operandValue } from "./resolve";
import { fitsDate } from "./sound";
import type { Viewer } from "./who/viewer";

/** What would make an act wrong for this schema, each as a sentence. */
export function actProblems(a: Act, schema: Schema): string[] {
  const table = schema.findTable(a.table);
  if (!table) return [`The act ${a.name} is on a table that is gone.`];
  if (a.on === "change" && a.sets.length === 0) return [`The act ${a.name} sets nothing.`];
  if (a.on === "talk" && a.sets.length > 0) return [`The act ${a.name} is for a conversation, and sets no field.`];
  if ((a.on === "accept") !== (a.accepts !== undefined)) return [`The act ${a.name} accepts nothing.`];
  if (a.accepts?.some((f) => schema.findField(f)?.tableId !== table.id)) return [`The act ${a.name} accepts a field that is not there.`];
  // What changed by being accepted would be another version at once.
  if (a.accepts?.some((f) => a.sets.some((s) => s.field === f))) return [`The act ${a.name} sets what it accepts.`];
  return a.sets.flatMap(({ field, to }) => {
    const f = schema.findField(field);
    if (f?.tableId !== table.id) return [`The act ${a.name} sets a field that is not there.`];
    if (f.system) return [`The act ${a.name} sets ${f.name}, which Elkhorn sets itself.`];
    return setProblems(a, f, to);
  });
}

function setProblems(a: Act, f: Field, to: Operand): string[] {
  if (to.kind === "date") return fitsDate(to, f.type) ? [] : [`The act ${a.name} sets ${f.name} to a day, but it is no date.`];
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
