/** The filter tree of the HTTP API: field slugs and plain values in, a condition out. What the viewer may not know is not found. */

import { z } from "zod";
import { err, ok, type Result } from "../result";
import type { Condition, Operand } from "../schema/condition";
import { choosesOne, isRelation } from "../schema/fields/natures";
import { OPERATORS, type Operator, takesList, takesNoValue } from "../schema/operators";
import { comparedWith, type Field, kindOf, operatorsFor, type Schema } from "../schema/types";

export type FilterError = { code: "not-found"; name: string } | { code: "invalid"; message: string };

const MOST_TESTS = 50;

/** `knows(table, field)` says whether the viewer may know of a field. */
export function parseFilter(
  text: string,
  schema: Schema,
  tableId: string,
  knows: (tableId: string, fieldId: string) => boolean,
): Result<Condition, FilterError> {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return err({ code: "invalid", message: "The filter is not JSON." });
  }
  let tests = 0;
  const bad = (message: string) => err({ code: "invalid" as const, message });

  const node = (v: unknown, depth: number): Result<Condition, FilterError> => {
    if (depth > 8) return bad("The filter is nested more than eight deep.");
    if (typeof v !== "object" || v === null || Array.isArray(v)) return bad("Each part of a filter is an object.");
    const o = v as Record<string, unknown>;
    for (const kind of ["all", "any"] as const) {
      const list = o[`${kind} of`];
      if (list === undefined) continue;
      if (!Array.isArray(list)) return bad(`“${kind} of” takes a list.`);
      const parts: Condition[] = [];
      for (const x of list) {
        const r = node(x, depth + 1);
        if (!r.ok) return r;
        parts.push(r.value);
      }
      return ok({ kind, of: parts });
    }
    if (o.not !== undefined) {
      const inner = node(o.not, depth + 1);
      return inner.ok ? ok({ kind: "not", of: inner.value }) : inner;
    }
    return ++tests > MOST_TESTS ? bad(`A filter has at most ${MOST_TESTS} tests.`) : test(o);
  };

  const test = (o: Record<string, unknown>): Result<Condition, FilterError> => {
    const parsed = z.object({ path: z.string().max(300), operator: z.string().max(40), value: z.unknown().optional() }).safeParse(o);
    if (!parsed.success) return bad("A test is { path, operator, value }.");
    const path: Field[] = [];
    let at: string | undefined = tableId;
    for (const slug of parsed.data.path.split(".")) {
      const f: Field | undefined = at ? schema.table(at).fields.find((x) => x.slug === slug) : undefined;
      if (!f || !knows(at!, f.id) || path.length === 4) return err({ code: "not-found", name: parsed.data.path });
      path.push(f);
      at = isRelation(f) ? f.options.target : undefined;
    }
    const field = path[path.length - 1]!;
    const operator = parsed.data.operator.trim().replaceAll(" ", "-") as Operator;
    if (!OPERATORS.includes(operator) || !operatorsFor(field.type).includes(operator)) {
      return bad(
        `“${parsed.data.operator}” does not apply to ${field.slug}. It takes: ${operatorsFor(field.type)
          .map((x) => x.replaceAll("-", " "))
          .join(", ")}.`,
      );
    }
    const operands = operandsOf(field, operator, parsed.data.value);
    return operands.ok
      ? ok({ kind: "test", path: path.map((f) => f.id), operator, operands: operands.value })
      : bad(`${field.slug}: ${operands.error}`);
  };
  return node(json, 0);
}

function operandsOf(field: Field, operator: Operator, value: unknown): Result<Operand[], string> {
  if (takesNoValue(operator)) return ok([]);
  const one = comparedWith(field, operator);
  const read = (v: unknown): Result<Operand, string> => {
    if (v === undefined || v === null) return err("A value is needed.");
    const r = kindOf(one).fromJson(v, one);
    // A choice that is not there is nobody's: a list asked for by it is empty, not refused.
    if (choosesOne(one) && !r.ok) return typeof v === "string" ? ok({ kind: "literal", value: v }) : err("The value must be text.");
    return r.ok ? ok({ kind: "literal", value: (r.value ?? "") as string | number | boolean }) : err(r.error);
  };
  if (operator === "between") {
    if (!Array.isArray(value) || value.length !== 2) return err("“between” takes a list of two.");
    const [a, b] = [read(value[0]), read(value[1])];
    return !a.ok ? a : !b.ok ? b : ok([a.value, b.value]);
  }
  if (!takesList(operator)) {
    const operand = read(value);
    return operand.ok ? ok([operand.value]) : operand;
  }
  if (!Array.isArray(value) || value.length > 500) return err("A list of at most 500 is needed.");
  const parts = value.map(read);
  const wrong = parts.find((p) => !p.ok);
  if (wrong) return wrong as Result<Operand[], string>;
  const literals = parts.flatMap((p) => (p.ok && p.value.kind === "literal" ? [p.value.value as string | number | boolean] : []));
  return ok([{ kind: "literal", value: literals }]);
}
