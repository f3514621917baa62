/** The demo's rules name tables, fields and choices by their words; definitions hold ids. */
import type { Operand, Test } from "@/core/schema/condition";
import type { Operator } from "@/core/schema/operators";
import { fieldBySlug, type Schema } from "@/core/schema/types";

export const literal = (value: string | string[]): Operand => ({ kind: "literal", value });

/** `list`: field slugs; "*" lists all that the table has now, and a minus takes one away. */
export function byNames(schema: Schema) {
  const fieldId = (table: string, slug: string): string => {
    if (slug === "self") return "self";
    const f = fieldBySlug(schema.tableBySlug(table)!, slug);
    if (!f) throw new Error(`The demo has no field ${table}.${slug}.`);
    return f.id;
  };
  const path = (table: string, dotted: string): string[] => {
    let at = table;
    return dotted.split(".").map((slug) => {
      const id = fieldId(at, slug);
      const target = schema.findField(id)?.options.target;
      if (target) at = schema.table(target).slug;
      return id;
    });
  };
  const test = (table: string, dotted: string, operator: Operator, ...operands: Operand[]): Test => ({
    kind: "test",
    path: path(table, dotted),
    operator,
    operands: operands.map((o) => choicesOf(path(table, dotted).at(-1)!, o)),
  });
  /** The demo's filters name choices by their words; rules hold their ids. */
  const choicesOf = (field: string, o: Operand): Operand => {
    const choices = schema.findField(field)?.options.choices;
    if (o.kind !== "literal" || !choices) return o;
    const id = (word: unknown): string => choices.find((c) => c.name === word)!.id;
    return { ...o, value: Array.isArray(o.value) ? o.value.map(id) : id(o.value) };
  };
  const list = (table: string, words: string): string[] => {
    const names = words.split(" ").filter(Boolean);
    const without = names.filter((n) => n.startsWith("-")).map((n) => n.slice(1));
    const fields = schema.tableBySlug(table)!.fields;
    return fields.filter((f) => (names.includes("*") ? !without.includes(f.slug) : names.includes(f.slug))).map((f) => f.id);
  };
  return { fieldId, path, test, choicesOf, list };
}
