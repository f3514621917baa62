import { isRelation } from "../schema/fields/natures";
import { ref, type SectionKind, sourceProblems, sourceSchema } from "./kind";
import { listConfig, listProblems } from "./list";

const config = {
  source: sourceSchema,
  /** The field of those records that points to the page's. */
  through: ref,
  ...listConfig,
};

export const related: SectionKind<"related", typeof config> = {
  kind: "related",
  name: "What belongs to it",
  what: "Records of another table that point to this one.",
  config,
  reads: (c) => ({ table: c.source.table, doing: "see", standsFor: false }),
  asks: true,
  heads: false,
  ofRecord: true,
  problems(c, around) {
    const field = around.schema.findField(c.through);
    const points = field && isRelation(field) && field.tableId === c.source.table && field.options.target === around.about?.id;
    return [
      ...sourceProblems(c.source, around.schema),
      ...listProblems(c, c.source.table, around),
      ...(points ? [] : ["The field that points here is gone, or points elsewhere now."]),
    ];
  },
};
