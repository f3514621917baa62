/**
 * Reads CSV a piece at a time (RFC 4180; also `;`, tab and `|`, LF or CR alone, a byte order mark). Knows the line on which
 * each record begins, and says where a quote was left open instead of swallowing the rest of the file.
 */

export interface CsvRecord {
  /** Line of the file on which the record begins; the first is 1. */
  readonly line: number;
  readonly cells: readonly string[];
  /** More was written than is held: what is here is not the record. */
  readonly cut: boolean;
}

export interface CsvError {
  readonly line: number;
  readonly code: "open-quote" | "stray-quote";
}

export const DELIMITERS = [",", ";", "\t", "|"] as const;
export type Delimiter = (typeof DELIMITERS)[number];

/** The candidate that splits most of the first lines into the same number of cells, more than one; quoted text does not count. */
export function guessDelimiter(sample: string): Delimiter {
  let best: Delimiter = ",";
  let bestScore = 0;
  for (const d of DELIMITERS) {
    const reader = new CsvReader(d);
    const rows = [...reader.push(sample)].slice(0, 50).filter((r) => r.cells.length > 1 || r.cells[0] !== "");
    const widths = new Map<number, number>();
    for (const r of rows) if (r.cells.length > 1) widths.set(r.cells.length, (widths.get(r.cells.length) ?? 0) + 1);
    const [width, times] = [...widths].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0] ?? [1, 0];
    const score = width > 1 ? (times / rows.length) * 100 + Math.min(width, 50) : 0;
    if (score > bestScore) [best, bestScore] = [d, score];
  }
  return best;
}

/** Characters of a cell that are held, twice what the longest field takes: whoever reads it finds it too long. */
export const MOST_CELL = 200_000;
/** Characters and cells of a record that are held. What is beyond is read over: an open quote may make a cell of a whole file. */
export const MOST_RECORD = 2_000_000;
export const MOST_CELLS = 5_000;

const QUOTE = 34;
const LF = 10;
const CR = 13;

export class CsvReader {
  readonly errors: CsvError[] = [];
  readonly #delimiter: number;
  #cells: string[] = [];
  #cell = "";
  /** Characters held of the record at hand. */
  #length = 0;
  #cut = false;
  #begun = false;
  #quoted = false;
  /** Just after a closing quote: only a delimiter, a line end or a second quote may follow. */
  #closed = false;
  #afterCr = false;
  #line = 1;
  #recordLine = 1;
  #quoteLine = 1;
  #first = true;
  #any = false;

  constructor(delimiter: Delimiter) {
    this.#delimiter = delimiter.charCodeAt(0);
  }

  /** Records completed by this piece of text. */
  push(text: string): CsvRecord[] {
    const records: CsvRecord[] = [];
    let i = 0;
    if (this.#first && text.length > 0) {
      this.#first = false;
      if (text.charCodeAt(0) === 0xfeff) i = 1;
    }
    while (i < text.length) {
      if (this.#quoted) {
        i = this.#insideQuotes(text, i);
        continue;
      }
      const c = text.charCodeAt(i);
      if (c === LF && this.#afterCr) {
        this.#afterCr = false;
        i++;
        continue;
      }
      this.#afterCr = false;
      if (c === LF || c === CR) {
        this.#afterCr = c === CR;
        i++;
        records.push(this.#endRecord());
        this.#line++;
        this.#recordLine = this.#line;
      } else if (c === this.#delimiter) {
        this.#endCell();
        i++;
      } else if (c === QUOTE && this.#closed) {
        this.#hold('"');
        this.#closed = false;
        this.#quoted = true;
        i++;
      } else if (c === QUOTE && !this.#begun && !this.#closed) {
        this.#quoted = true;
        this.#any = true;
        this.#quoteLine = this.#line;
        i++;
      } else i = this.#plain(text, i);
    }
    return records;
  }

  /** The last record, if the file does not end with a line break. */
  *end(): Generator<CsvRecord> {
    if (this.#quoted) this.errors.push({ line: this.#quoteLine, code: "open-quote" });
    if (this.#any || this.#cells.length > 0 || this.#cell !== "") yield this.#endRecord();
  }

  #insideQuotes(text: string, from: number): number {
    const close = text.indexOf('"', from);
    const to = close === -1 ? text.length : close;
    const piece = text.slice(from, to);
    this.#hold(piece);
    for (let at = piece.indexOf("\n"); at !== -1; at = piece.indexOf("\n", at + 1)) this.#line++;
    if (close === -1) return to;
    this.#quoted = false;
    this.#closed = true;
    return to + 1;
  }

  #plain(text: string, from: number): number {
    if (this.#closed) {
      this.errors.push({ line: this.#line, code: "stray-quote" });
      this.#closed = false;
    }
    let to = from + 1;
    for (; to < text.length; to++) {
      const c = text.charCodeAt(to);
      if (c === this.#delimiter || c === LF || c === CR) break;
    }
    this.#hold(text.slice(from, to));
    this.#any = true;
    return to;
  }

  #hold(piece: string): void {
    if (piece === "") return;
    this.#begun = true;
    const room = Math.min(MOST_CELL - this.#cell.length, MOST_RECORD - this.#length);
    if (piece.length > room) this.#cut = true;
    const held = piece.length > room ? piece.slice(0, room) : piece;
    this.#cell += held;
    this.#length += held.length;
  }

  #endCell(): void {
    if (this.#cells.length < MOST_CELLS) this.#cells.push(this.#cell);
    else this.#cut = true;
    this.#begun = false;
    this.#cell = "";
    this.#closed = false;
    this.#any = true;
  }

  #endRecord(): CsvRecord {
    this.#endCell();
    const record = { line: this.#recordLine, cells: this.#cells, cut: this.#cut };
    this.#cells = [];
    this.#length = 0;
    this.#cut = false;
    this.#any = false;
    return record;
  }
}

/** A record of a blank line; RFC 4180 has none, but files do. */
export const isBlank = (r: Pick<CsvRecord, "cells">): boolean => r.cells.every((c) => c.trim() === "");
