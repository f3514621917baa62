/** The third reader: walks a predicate over a record and keeps what was found beside what was wanted. */

import { assertNever } from "../assert-never";
import { pointsToOne } from "../schema/fields/natures";
import type { Operator } from "../schema/operators";
import type { Scalar, Schema, Value } from "../schema/types";
import { holds } from "./compare";
import type { Predicate } from "./predicate";
import { linked, type Row, type World } from "./row";

export interface Trace {
  readonly holds: boolean;
  /** Relation fields walked to get here, then the field tested. Empty for ownership and combinations. */
  readonly path: readonly string[];
  readonly test?: { readonly operator: Operator; readonly wanted: readonly Scalar[]; readonly found: Value };
  readonly parts: readonly Trace[];
  readonly note?: "owned" | "among" | "broken path" | "nothing can match" | "not";
}

const leaf = (h: boolean, more: Partial<Trace> = {}): Trace => ({ holds: h, path: [], parts: [], ...more });

export function trace(p: Predicate, row: Row, world: World, schema: Schema, path: readonly string[] = []): Trace {
  switch (p.kind) {
    case "always":
      return leaf(true, { path });
    case "never":
      return leaf(false, { path, note: "nothing can match" });
    case "all": {
      const parts = p.of.map((q) => trace(q, row, world, schema, path));
      return { holds: !parts.some((t) => !t.holds), path, parts };
    }
    case "any": {
      const parts = p.of.map((q) => trace(q, row, world, schema, path));
      return { holds: parts.some((t) => t.holds), path, parts };
    }
    case "not": {
      const inner = trace(p.of, row, world, schema, path);
      return { holds: !inner.holds, path, parts: [inner], note: "not" };
    }
    case "owned":
      return leaf(row.companyId === p.company, {
        note: "owned",
        path,
        test: { operator: "is", wanted: [p.company], found: row.companyId },
      });
    case "among":
      return leaf(p.ids.includes(row.id), { note: "among", path, test: { operator: "any-of", wanted: p.ids, found: row.id } });
    case "compare": {
      const found = row.values[p.field] ?? null;
      return leaf(holds(schema.field(p.field).type, p.operator, found, p.values), {
        path: [...path, p.field],
        test: { operator: p.operator, wanted: p.values, found },
      });
    }
    case "via":
      return traceVia(p, row, world, schema, path);
    default:
      return assertNever(p);
  }
}

function traceVia(p: Predicate & { kind: "via" }, row: Row, world: World, schema: Schema, path: readonly string[]): Trace {
  const field = schema.relation(p.field);
  const onward = [...path, p.field];
  const parts = linked(row.values[p.field]).flatMap((id) => {
    const next = world.row(field.options.target, id);
    return next ? [trace(p.of, next, world, schema, onward)] : [];
  });
  if (parts.length === 0) return leaf(pointsToOne(field) && p.orEmpty, { path: onward, note: "broken path" });
  return { holds: parts.some((t) => t.holds), path: onward, parts };
}

/** The tests that decided against: the deepest failing leaves. */
export function failures(t: Trace): Trace[] {
  if (t.holds) return [];
  const inner = t.note === "not" ? [] : t.parts.flatMap(failures);
  return inner.length > 0 ? inner : [t];
}
