/** CSV out: RFC 4180 with a byte order mark for spreadsheets, and cells that a spreadsheet would run as formulas made harmless. */
import Papa from "papaparse";
import type { Scalar } from "../schema/types";

/**
 * How a cell begins that spreadsheets run: OWASP, "CSV Injection", lists = + - @, tab, return, line feed and the full-width forms. Only
 * the first sign matters, whatever follows, line breaks too.
 */
const SIGNS = "[=+\\-@\\t\\r\\n\\uff1d\\uff0b\\uff0d\\uff20]";
/** Texts that begin with quotes before such a sign get one more, so that the way back knows which was theirs. */
const RUNS = new RegExp(`^'*${SIGNS}`);
const QUOTED = new RegExp(`^'+${SIGNS}`);

/** Text that a spreadsheet would run gets a quote before it, as the page named above advises. Numbers stay, negative ones too. */
const harmless = (cell: Scalar | null): Scalar | null => (typeof cell === "string" && RUNS.test(cell) ? `'${cell}` : cell);

/** The way back: the quote that made a text harmless is no part of it, in our files and in what spreadsheets write alike. */
export const unquoted = (cell: string): string => (cell.startsWith("'") && QUOTED.test(cell) ? cell.slice(1) : cell);

/** Rows as CSV (RFC 4180), each ended by CRLF; a text that a spreadsheet would run as a formula is kept a text. */
export function csvLines(rows: readonly (readonly (Scalar | null)[])[]): string {
  if (rows.length === 0) return "";
  return `${Papa.unparse(rows.map((r) => r.map(harmless)) as unknown[][], { newline: "\r\n" })}\r\n`;
}

export const BYTE_ORDER_MARK = "\ufeff";
