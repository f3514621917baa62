/** A chart over groups of what the reader sees. */

import { z } from "zod";
import { isGrouped } from "../schema/fields/natures";
import { fieldsGone, ref, type SectionKind, sourceProblems, sourceSchema, unfit } from "./kind";
import { measureConfig, measureProblems } from "./measure";

const config = {
  source: sourceSchema,
  shape: z.enum(["bars", "lines", "share"]),
  /** A choice, a yes or no, a relation, or a date (by months). */
  by: ref,
  ...measureConfig,
};

export const chart: SectionKind<"chart", typeof config> = {
  kind: "chart",
  name: "Chart",
  what: "Bars, a line or shares over groups of records.",
  config,
  reads: (c) => ({ table: c.source.table, doing: "see", standsFor: true }),
  asks: false,
  heads: false,
  problems(c, { schema }) {
    const table = schema.findTable(c.source.table);
    return [
      ...sourceProblems(c.source, schema),
      ...measureProblems(c, c.source.table, schema),
      ...(table ? [...fieldsGone([c.by], table), ...unfit(c.by, table, isGrouped, "makes no groups.")] : []),
    ];
  },
};
