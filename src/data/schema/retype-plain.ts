/** Columns whose every value SQLite casts into just what reading it would give: whole numbers, and words that are such numbers. */

import { isNumber } from "@/core/schema/fields/natures";
import { type Field, kindOf } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../file/open";

export interface Plain {
  /** What the value of a column becomes, in SQL. */
  readonly cast: (column: string) => string;
  readonly converts: number;
  readonly empty: number;
}

/** Digits of which every number is a safe integer (IEEE 754 binary64 holds all whole numbers of fifteen). */
const SAFE_DIGITS = 15;

/** Null where values must be read one by one: it is many times quicker where they need not. */
export function plainly(file: PortalFile, field: Field, next: Field): Plain | null {
  if (isNumber(field) && kindOf(next).folds && isBare(next)) return wholeToWords(file, field);
  if (kindOf(field).folds && isNumber(next) && isBare(next)) return wordsToNumbers(file, field, next.options.decimals ?? 0);
  return null;
}

/** Nothing but its type and decimals says what fits. */
const isBare = ({ type, options: { longest, mask, unit, least, most } }: Field): boolean =>
  ["text", "long-text", "number"].includes(type) && [longest, mask, unit, least, most].every((x) => x === undefined);

function counted(file: PortalFile, field: Field, fits: string): Omit<Plain, "cast"> | null {
  const x = sqlName(field.id);
  const [all, filled, fit] = file.db
    .prepare(`SELECT count(*), count(${x}), count(CASE WHEN ${fits} THEN 1 END) FROM ${sqlName(field.tableId)}`)
    .raw()
    .get() as [number, number, number];
  return fit === filled ? { converts: filled, empty: all - filled } : null;
}

function wholeToWords(file: PortalFile, field: Field): Plain | null {
  if (field.options.decimals !== 0) return null;
  const counts = counted(file, field, `${sqlName(field.id)} IS NOT NULL`);
  return counts && { cast: (c) => `CAST(${c} AS TEXT)`, ...counts };
}

function wordsToNumbers(file: PortalFile, field: Field, decimals: number): Plain | null {
  const x = sqlName(field.id);
  // Written just as SQLite writes the number: no zeros before it, no sign but a minus, nothing around it.
  const counts = counted(file, field, `length(${x}) <= ${SAFE_DIGITS - decimals} AND ${x} = CAST(CAST(${x} AS INTEGER) AS TEXT)`);
  return counts && { cast: (c) => `CAST(${c} AS INTEGER) * ${10 ** decimals}`, ...counts };
}
