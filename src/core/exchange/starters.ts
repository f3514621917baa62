/** Access that a new table begins with, in words that an owner would use. Each becomes ordinary grants in the draft. */

import { EVERYONE } from "../access/rules";
import type { Definition } from "../definition/definition";
import type { Condition } from "../schema/condition";
import { pointsToOne } from "../schema/fields/natures";
import type { Field, Table } from "../schema/types";

export const STARTERS = ["own", "assigned", "file", "all"] as const;
export type Starter = (typeof STARTERS)[number];

export const STARTER_WORDS: Readonly<Record<Starter, { name: string; about: string }>> = {
  own: { name: "Each company sees its own", about: "Everyone in a company sees all of the company's records." },
  assigned: { name: "People see what is assigned to them", about: "Of their company's records, those that name them." },
  file: { name: "Everyone may file new ones and follow them", about: "They add records for their company, and see those that they added." },
  all: { name: "Every client sees all of them", about: "The records belong to no company: whoever is signed in reads them." },
};

/** Which may be chosen for records that belong so; `people` says whether the table points to people. */
export const startersFor = (whose: "column" | "shared" | "agency" | "as-is", people: boolean): Starter[] =>
  whose === "column" ? ["own", ...(people ? (["assigned"] as const) : []), "file"] : whose === "shared" ? ["all"] : [];

type Grant = Definition["grants"][number];

/** `madeBy` is the table's field of who made a record, where filing is among the starters. */
export function starterGrants(starters: readonly Starter[], table: Table, newId: () => string, madeBy: Field | undefined): Grant[] {
  const readable = table.fields.map((f) => f.id);
  const settable = table.fields.filter((f) => !f.system).map((f) => f.id);
  const grant = (actions: Grant["actions"], filter: Condition | null, changes: string[] = []): Grant => ({
    id: newId(),
    roles: [EVERYONE],
    table: table.id,
    actions,
    filter,
    fields: readable,
    changes,
  });
  const me = (field: string): Condition => ({
    kind: "test",
    path: [field],
    operator: "is",
    operands: [{ kind: "viewer", of: "person", field: null }],
  });
  return starters.flatMap((s): Grant[] => {
    if (s === "own" || s === "all") return [grant(["see"], null)];
    if (s === "assigned") {
      const to = table.fields.filter((f) => pointsToOne(f) && f.options.target === "t_people" && !f.options.kept);
      return to.map((f) => grant(["see"], me(f.id)));
    }
    return [grant(["add"], null, settable), ...(madeBy ? [grant(["see"], me(madeBy.id))] : [])];
  });
}
