/**
 * A type of field as one object: how its values are read, written, compared and described. Grid, forms, filters, import, export and
 * API ask it and know no types themselves. How it is stored in SQL and which control edits it are records by type, in
 * `data/tables/physical.ts` and `ui/forms/fields.ts` and `ui/field-value.tsx`.
 */

import type { Result } from "../../result";
import type { Offered } from "../offered";
import type { Operator } from "../operators";
import type { SeenValue } from "../seen";
import type { Scalar, Value } from "../value";

/** How the day and month stand in dates like 3/4/2026; of an import it is settled by the whole column. */
export type DateOrder = "iso" | "day-first" | "month-first";

/** How texts are written where they cannot say so themselves: settled for a whole column, or by the portal. */
export interface Reading {
  readonly order?: DateOrder;
  /** The sign before the decimals; either where nothing is said, as the text itself shows. */
  readonly mark?: "." | ",";
  /** IANA name of the zone that times are given in; UTC where nothing is said. */
  readonly timeZone?: string;
}

export interface Locale {
  readonly locale: string;
  readonly timeZone: string;
}

/** Options that only some types have. Absent in the others, so that whoever has any field may ask for them. */
interface OfSome {
  target: string;
  choices: Choice[];
  currency: string;
  decimals: number;
  /** Shown without grouping: years and codes. */
  plain: boolean;
  /** Stands behind a number: "mm". */
  unit: string;
  /** In the stored form: scaled, or minor units. */
  least: number;
  most: number;
  /** Characters. */
  longest: number;
  /** See `core/text/mask.ts`. */
  mask: string;
  /** Said instead of the standard sentence where a text does not fit the mask. */
  maskSays: string;
  /** ISO 3166-1 alpha-2: where telephone numbers without a country are from. */
  country: string;
  /** Before the digits of a number in order. */
  prefix: string;
  digits: number;
  perCompany: boolean;
  /** The field that a readable address is made from. */
  madeFrom: string;
}
/** What a choice means for whoever sees it, beside its words and never without them. */
export const TONES = ["good", "going", "waiting", "trouble"] as const;
export type Tone = (typeof TONES)[number];

export interface Choice {
  /** What rows, filters, rules and history hold; the words may change. */
  readonly id: string;
  readonly name: string;
  readonly tone?: Tone;
  /** What it was called before, the latest first: files that are imported may say so still. */
  readonly former?: readonly string[];
}
/** The options of a type that has these of its own. */
export type Having<K extends keyof OfSome = never, L extends keyof OfSome = never> = Pick<OfSome, K> &
  Partial<Pick<OfSome, L>> & {
    [A in Exclude<keyof OfSome, K | L>]?: undefined;
  };

/** What a type is told of the field at hand. */
export interface Of<O> {
  readonly name: string;
  readonly options: O;
}

export interface FieldKind<O = object> {
  /** As people choose it: "Long text". */
  readonly name: string;
  readonly operators: readonly Operator[];
  /** Operators that read otherwise for this type: dates are "before", not "less than". */
  readonly operatorWords?: Readonly<Partial<Record<Operator, string>>>;
  /** A list of ids rather than one value; then the type of a single one of them. */
  readonly many: "choice" | "relation" | "files" | "pictures" | null;
  readonly sortable: boolean;
  /** Figures and dates: compared down a column, so they stand to the right. */
  readonly numeric: boolean;
  /** Words that are compared without regard to case, by their folded form. */
  readonly folds: boolean;
  /** What a literal in a filter is. */
  readonly literal: "string" | "number" | "boolean";
  /** The stored form is the value or its folded text, so that counts may be grouped by it. */
  readonly groupable: boolean;
  /** May a new field of an import be of it. */
  readonly importable: boolean;
  /** Options that a field has where none are given. */
  options(given: Partial<OfSome>): O;

  /** From the words of a cell, a form or a pasted line: one text, or one for each item. Empty words are an empty value. */
  parse(texts: readonly string[], f: Of<O>, reading?: Reading): Result<Value, string>;
  /** The way back: what an editor shows, and `parse` reads with the same zone. */
  texts(v: SeenValue, f: Of<O>, timeZone?: string): string[];
  /** From and to a JSON body (see the HTTP API). */
  fromJson(v: unknown, f: Of<O>): Result<Value, string>;
  toJson(v: SeenValue, f: Of<O>): unknown;
  jsonSchema(f: Of<O>): object;
  /** What `fromJson` takes, where that is more than what `toJson` gives. */
  jsonInput?(f: Of<O>): object;
  words(v: SeenValue, f: Of<O>, l: Locale): string;
  /** In files: numbers stay numbers, dates are ISO 8601. */
  cell(v: SeenValue, f: Of<O>): Scalar | null;
  /** How a spreadsheet shows the cell, in the format codes of ISO/IEC 29500-1 section 18.8.31; dates are given to it as dates. */
  sheet?(f: Of<O>): { readonly format: string; readonly date?: true };
  /** A literal of a filter, in a sentence. */
  literalWords(v: Scalar, f: Of<O>): string;
  /** What a value is chosen from, where that is the same for everybody. */
  offers?(f: Of<O>): readonly Offered[];
  /** A word under the box of a form. */
  hint?(f: Of<O>): string;
  /** The test that finds these words by this field, where searching looks there. */
  search?(words: string, f: Of<O>): { operator: Operator; value: string | string[] } | null;
}

/** Options that were given, without the keys that were not. */
export function given<T extends object, K extends keyof T>(from: T, ...keys: K[]): Partial<Pick<T, K>> {
  const out: Partial<Pick<T, K>> = {};
  for (const k of keys) if (from[k] !== undefined) out[k] = from[k];
  return out;
}

/** The one text of a field that holds one value. */
export const sole = (texts: readonly string[]): string => texts[0] ?? "";
