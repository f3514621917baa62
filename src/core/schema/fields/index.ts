/** The types of field, by the name that the registry stores. */
import { email, telephone, webAddress } from "./address";
import { readableAddress, serial } from "./automatic";
import { choice, choices } from "./choice";
import { date } from "./date";
import { dateTime } from "./date-time";
import { files, pictures } from "./files";
import type { FieldKind } from "./kind";
import { money } from "./money";
import type { FieldType } from "./natures";
import { number } from "./number";
import { percent } from "./percent";
import { relation, relations } from "./relation";
import { longText, text } from "./text";
import { yesNo } from "./yes-no";

export const KINDS = {
  text,
  "long-text": longText,
  number,
  money,
  percent,
  date,
  "date-time": dateTime,
  email,
  telephone,
  "web-address": webAddress,
  serial,
  "readable-address": readableAddress,
  "yes-no": yesNo,
  choice,
  choices,
  relation,
  relations,
  files,
  pictures,
  // biome-ignore lint/suspicious/noExplicitAny: each kind has options of its own
} satisfies Record<FieldType, FieldKind<any>>;

export type { FieldType };
export const FIELD_TYPES = Object.keys(KINDS) as [FieldType, ...FieldType[]];

export type OptionsOf<T extends FieldType> = (typeof KINDS)[T] extends FieldKind<infer O> ? O : never;

/** The type's own object. It is given fields of its type alone, as whoever holds a field has checked. */
// biome-ignore lint/suspicious/noExplicitAny: a field's options fit its own kind, which the compiler cannot follow through the union
export const kindOf = (f: { readonly type: FieldType }): FieldKind<any> => KINDS[f.type];
