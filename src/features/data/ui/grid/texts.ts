import type { Locale } from "@/core/schema/fields/kind";
import type { SeenValue } from "@/core/schema/seen";
import { type Field, kindOf } from "@/core/schema/types";

/** What a cell is edited as, and what undo puts back. */
export const textsOf = (f: Field, v: SeenValue | undefined, l: Locale): string[] =>
  v === null || v === undefined ? [] : kindOf(f).texts(v, f, l.timeZone);
