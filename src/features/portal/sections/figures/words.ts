/** A measured value as people read it: in the field's own words, or as a plain count. */
import { toWords } from "@/core/exchange/present";
import type { Locale } from "@/core/schema/fields/kind";
import type { Field } from "@/core/schema/types";
import type { Measure } from "@/core/sections/measure";

export function measuredWords(measure: Measure, of: Field | null, value: number | null, locale: Locale): string {
  if (value === null) return "–";
  if (measure === "count" || !of) return new Intl.NumberFormat(locale.locale).format(value);
  // An average has more digits than the field keeps: it is said in those that the field keeps.
  return toWords(of, Math.round(value), locale);
}
