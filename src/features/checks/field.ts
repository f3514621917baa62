/** Who reads one field of a table, on all the records they see or on some, and by which grants. */

import { countPlan, hiddenFields } from "@/core/access/counting";
import { scope } from "@/core/access/scope";
import { grantSentence } from "@/core/access/words/wording";
import type { Field, Table } from "@/core/schema/types";
import { ManyCounter } from "@/data/records/counting/count-many";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { everyone, type Someone } from "@/identity/viewers/crowd";
import { namesOf } from "@/office/names";
import { lookedAt } from "./queries";

export interface Reader {
  readonly who: Someone;
  readonly roles: string;
  /** Records of the table that they see. */
  readonly seen: number;
  /** Whether the field is hidden on some of those. */
  readonly partly: boolean;
}

export function fieldView(p: OfficePortal, table: Table, field: Field, of: string | undefined) {
  const { which, policy, definition } = lookedAt(p, of);
  const counter = new ManyCounter(p.file, policy.schema, p.owner);
  const people = everyone(p.file, definition, p.owner, p.now);
  const readers: Reader[] = [];
  let without = 0;
  for (const who of people) {
    if (scope(policy, who.viewer, table.id).grants.length === 0) continue;
    const seen = counter.count(table.id, countPlan(policy, who.viewer, table.id, ["see"]));
    const hidden = hiddenFields(policy, who.viewer, table.id);
    if (seen === 0) continue;
    if (hidden.never.includes(field.id)) without++;
    else
      readers.push({
        who,
        seen,
        partly: hidden.partly.includes(field.id),
        roles: who.roles.map((r) => policy.role(r)?.name ?? r).join(", "),
      });
  }
  const names = namesOf(p);
  const grants = policy
    .grantsOn(table.id)
    .filter((g) => g.actions.includes("see") && g.fields.includes(field.id))
    .map((g) => ({ id: g.id, sentence: grantSentence(policy, g, names) }));
  const hasSafeguard = definition.safeguards.some(
    ({ subject: s, claim: c }) =>
      s.kind === "side" && s.side === "client" && c.kind === "field" && c.action === "see" && c.field === field.id,
  );
  return { which, readers, without, grants, hasSafeguard };
}
