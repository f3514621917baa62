/** Whether something holds of who reads, as one of People: for showing and hiding, by rules that the owner wrote. */

import { match } from "@/core/access/match";
import { resolve } from "@/core/access/resolve";
import type { World } from "@/core/access/row";
import { conditionBreaks } from "@/core/access/sound";
import type { Condition } from "@/core/schema/condition";
import { isFiles, isLink, isLinks, type SeenValue } from "@/core/schema/seen";
import { kindOf, type Value } from "@/core/schema/types";
import type { Access } from "../access";
import { worldOf } from "../tables/rows";
import { readRecord } from "./query/read";

/** Whether a condition about People holds for the reader; never for a visitor. It reads their stored values, also those they do not see. */
export function readerMeets({ file, policy, viewer }: Access, c: Condition): boolean {
  const { schema } = policy;
  if (!viewer.person || conditionBreaks(c, schema.people.id, schema).length > 0) return false;
  const row = { id: viewer.person.id, table: schema.people.id, companyId: viewer.company?.id ?? null, values: viewer.person.values };
  return match(resolve(c, viewer), row, worldOf(file, schema), schema);
}

/** Reads related records as the viewer sees them, for conditions that follow relations. */
export function readerWorld(d: Access): World {
  return {
    row: (table, id) => {
      const seen = readRecord(d, table, id);
      if (!seen) return undefined;
      const values = Object.fromEntries(
        d.policy.schema.table(table).fields.map((f) => [f.id, plainValue(seen.fields[f.id], kindOf(f).many !== null)]),
      );
      return { id, table, companyId: null, values };
    },
  };
}

function plainValue(v: SeenValue | undefined, many: boolean): Value {
  if (v === undefined || v === null) return many ? [] : null;
  if (isLink(v)) return "withheld" in v ? null : v.id;
  if (isLinks(v)) return v.flatMap((l) => ("withheld" in l ? [] : [l.id]));
  return isFiles(v) ? v.map((f) => f.id) : (v as Value);
}
