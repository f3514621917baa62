/** What is worked out over records: how many, or of a number the sum, average, least or most. */

import { z } from "zod";
import { isSummed } from "../schema/fields/natures";
import type { Schema } from "../schema/types";
import { fieldsGone, ref, unfit } from "./kind";

export const MEASURES = ["count", "sum", "average", "least", "most"] as const;
export type Measure = (typeof MEASURES)[number];

export const measureConfig = {
  measure: z.enum(MEASURES),
  /** Which number is measured; null for a count. */
  of: ref.nullable(),
};

export function measureProblems(c: { measure: Measure; of: string | null }, tableId: string, schema: Schema): string[] {
  const table = schema.findTable(tableId);
  if (!table || c.measure === "count") return [];
  if (c.of === null) return ["It needs a number to work with."];
  return [...fieldsGone([c.of], table), ...unfit(c.of, table, isSummed, "is no number.")];
}
