/** A record's cells as a spreadsheet has them: typed, so that text is never run, dates are dates and money has its format. */
import type { SeenValue } from "../schema/seen";
import { type Field, kindOf } from "../schema/types";

export type SheetCell =
  | null
  | { readonly value: string; readonly type: "text" }
  | { readonly value: boolean; readonly type: "yes-no" }
  | { readonly value: number; readonly type: "number"; readonly format: string }
  /** Midnight in UTC of that day. */
  | { readonly value: Date; readonly type: "date"; readonly format: string };

/** "Excel specifications and limits" (Microsoft): total number of characters that a cell can contain. From memory. */
export const MOST_OF_CELL = 32_767;
/** Characters that XML 1.0 (section 2.2) has no way to write. */
const UNWRITABLE = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g;
/** A spreadsheet's days begin with 1900, and its first two months are counted wrongly by a leap day that never was. */
const FIRST_DAY = "1900-03-01";

function fitting(text: string): string {
  const clean = text.replace(UNWRITABLE, "");
  if (clean.length <= MOST_OF_CELL) return clean;
  const note = ` … (cut: the whole text has ${clean.length} characters)`;
  return clean.slice(0, MOST_OF_CELL - note.length).toWellFormed() + note;
}

/** A value as a cell of a workbook: numbers and dates stay such. */
export function sheetCell(field: Field, v: SeenValue | undefined): SheetCell {
  const kind = kindOf(field);
  const cell = v === null || v === undefined ? null : kind.cell(v, field);
  const shown = kind.sheet?.(field);
  if (cell === null) return null;
  if (typeof cell === "boolean") return { value: cell, type: "yes-no" };
  if (typeof cell === "number") return { value: cell, type: "number", format: shown?.format ?? "General" };
  if (shown?.date && cell >= FIRST_DAY) return { value: new Date(`${cell}T00:00:00Z`), type: "date", format: shown.format };
  return { value: fitting(cell), type: "text" };
}

/** In characters: wide enough for what is there, and never so wide that the next column is out of sight. */
export const widthOf = (name: string, longest: number): number => Math.min(60, Math.max(10, name.length, longest) + 2);
