/** Figures over what the reader sees, each leading to its records. */

import { z } from "zod";
import { isDated } from "../schema/fields/natures";
import { fieldsGone, readsNone, ref, type SectionKind, sourceProblems, sourceSchema, unfit, words } from "./kind";
import { measureConfig, measureProblems } from "./measure";

const config = {
  items: z
    .array(
      z.strictObject({
        id: ref,
        name: words(60),
        source: sourceSchema,
        ...measureConfig,
        /** A date by which this month is set against the one before. */
        monthly: ref.nullable(),
      }),
    )
    .max(12),
};
export type FiguresConfig = z.infer<z.ZodObject<typeof config>>;

export const figures: SectionKind<"figures", typeof config> = {
  kind: "figures",
  name: "Figures",
  what: "Counts, sums and averages, each leading to its records.",
  config,
  reads: readsNone,
  asks: false,
  heads: false,
  problems: (c, { schema }) =>
    c.items.flatMap((x) => {
      const table = schema.findTable(x.source.table);
      return [
        ...sourceProblems(x.source, schema),
        ...measureProblems(x, x.source.table, schema),
        ...(table ? [...fieldsGone([x.monthly], table), ...unfit(x.monthly, table, isDated, "is no date.")] : []),
      ].map((p) => `${x.name}: ${p}`);
    }),
};
