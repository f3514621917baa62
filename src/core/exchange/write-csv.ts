/** CSV out: RFC 4180 with a byte order mark for spreadsheets, and cells that a spreadsheet would run as formulas made harmless. */
import Papa from "papaparse";
import type { Scalar } from "../schema/types";

/** Text only: a negative number is a number. The leading quote is OWASP's advice on CSV injection. */
export function csvLines(rows: readonly (readonly (Scalar | null)[])[]): string {
  if (rows.length === 0) return "";
  return `${Papa.unparse(rows as unknown[][], { escapeFormulae: true, newline: "\r\n" })}\r\n`;
}

export const BYTE_ORDER_MARK = "\ufeff";
