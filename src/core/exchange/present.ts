/** Records as they leave: JSON for programs, words for people, cells for files. The types of their fields say how. */

import { ok, type Result } from "../result";
import type { Locale } from "../schema/fields/kind";
import { isLink, linkWords, type SeenRecord, type SeenValue } from "../schema/seen";
import { type Field, kindOf, type Scalar, type Table, type Value } from "../schema/types";

/** As the HTTP API shows it: relations { id, label } or { withheld: true }, money { amount, currency }, the rest plain. */
export const toJson = (field: Field, v: SeenValue): unknown => (v === null ? null : kindOf(field).toJson(v, field));

/** A record as the API gives it: values by the slug of their field, only those that were read. */
export function recordJson(table: Table, r: SeenRecord): { id: string; fields: Record<string, unknown> } {
  const fields: Record<string, unknown> = {};
  for (const f of table.fields) if (f.id in r.fields) fields[f.slug] = toJson(f, r.fields[f.id]!);
  return { id: r.id, fields };
}

/** A value as text in the portal's language and time zone; empty where there is none. */
export const toWords = (field: Field, v: SeenValue | undefined, l: Locale): string =>
  v === null || v === undefined ? "" : isLink(v) ? linkWords(v) : kindOf(field).words(v, field, l);

/** For CSV and spreadsheets. */
export const toCell = (field: Field, v: SeenValue | undefined): Scalar | null =>
  v === null || v === undefined ? null : kindOf(field).cell(v, field);

/** From a JSON body; null is an empty value of every type. */
export const fromJson = (field: Field, v: unknown): Result<Value, string> =>
  v === null ? ok(kindOf(field).many ? [] : null) : kindOf(field).fromJson(v, field);
