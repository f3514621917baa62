/** The in-memory reader of predicates. Agrees with the SQL that `data/records/query/compile` makes: see the differential test. */

import { assertNever } from "../assert-never";
import { pointsToOne } from "../schema/fields/natures";
import type { Schema } from "../schema/types";
import { holds } from "./compare";
import type { Predicate } from "./predicate";
import { linked, type Row, type World } from "./row";

/**
 * Whether a row meets the predicate; `world` reads the rows that its relations lead to. The same answer as its SQL gives
 * (`data/records/query/compile.ts`).
 */
export function match(p: Predicate, row: Row, world: World, schema: Schema): boolean {
  switch (p.kind) {
    case "always":
      return true;
    case "never":
      return false;
    case "all":
      return p.of.every((q) => match(q, row, world, schema));
    case "any":
      return p.of.some((q) => match(q, row, world, schema));
    case "not":
      return !match(p.of, row, world, schema);
    case "owned":
      return row.companyId === p.company;
    case "among":
      return p.ids.includes(row.id);
    case "compare":
      return holds(schema.field(p.field).type, p.operator, row.values[p.field], p.values);
    case "via": {
      const field = schema.relation(p.field);
      const ids = linked(row.values[p.field]);
      if (ids.length === 0) return pointsToOne(field) && p.orEmpty;
      return ids.some((id) => {
        const next = world.row(field.options.target, id);
        return next !== undefined && match(p.of, next, world, schema);
      });
    }
    default:
      return assertNever(p);
  }
}
