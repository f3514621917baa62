/** Takes an uploaded file in, refuses what is not a table of text, and reads all of it once to guess types. */
import { createWriteStream, existsSync, readdirSync, rmSync, statSync } from "node:fs";
import { mkdir, open } from "node:fs/promises";
import { join } from "node:path";
import { Readable, Transform } from "node:stream";
import { pipeline } from "node:stream/promises";
import { fileTypeFromBuffer } from "file-type";
import { CsvReader, type CsvRecord, type Delimiter, guessDelimiter, isBlank } from "@/core/exchange/csv";
import { type ColumnGuess, ColumnWatch } from "@/core/exchange/guess";
import { MOST_BYTES, MOST_COLUMNS } from "@/core/exchange/import-plan";
import { err, ok, type Result } from "@/core/result";
import { importFolder, importPath } from "./paths";
import { removeUpload, type Source, unpack } from "./sources";

export interface Analysis {
  readonly delimiter: Delimiter;
  readonly encoding: "utf-8" | "windows-1252";
  readonly header: readonly string[];
  readonly sample: readonly (readonly string[])[];
  readonly columns: readonly ColumnGuess[];
  readonly rows: number;
  /** Rows with more or fewer cells than the header; they will be refused one by one. */
  readonly ragged: number;
  /** Rows with nothing in them, which are passed over. */
  readonly blank: number;
  readonly source: Source;
  /** Of the rows that have something in them, which names the columns; from 0. Those before it are passed over. */
  readonly headerAt: number;
  /** The first rows as they stand, to choose the one that names the columns from. */
  readonly first: readonly (readonly string[])[];
}

/** Which sheet, and which row names the columns; guessed where null. */
export interface Asked {
  readonly sheet: number | null;
  readonly headerAt: number | null;
}

/** `most` bytes of it: what a person drops is less than what another system sends. */
export async function receiveFile(id: string, body: ReadableStream<Uint8Array>, most = MOST_BYTES): Promise<Result<null, string>> {
  let bytes = 0;
  const tooLarge = new Error("too large");
  const meter = new Transform({
    transform(chunk: Buffer, _, done) {
      bytes += chunk.length;
      done(bytes > most ? tooLarge : null, chunk);
    },
  });
  try {
    await mkdir(importFolder(), { recursive: true, mode: 0o700 });
    await pipeline(Readable.fromWeb(body as never), meter, createWriteStream(importPath(id, "csv")));
  } catch (e) {
    removeUpload(id);
    if (e === tooLarge) return err(`The file is larger than ${most / 1024 / 1024} MB. Split it and import the parts one after the other.`);
    if ((e as NodeJS.ErrnoException).code === "ENOSPC")
      return err("The disk is full, so the file could not be kept. Nothing was imported; make room and try again.");
    throw e;
  }
  return ok(null);
}

/** Removes what was last written before then, unless its id is held. */
export function sweepUploads(held: ReadonlySet<string>, before: number): void {
  if (!existsSync(importFolder())) return;
  for (const name of readdirSync(importFolder())) {
    const path = join(importFolder(), name);
    if (!held.has(name.split(".")[0]!) && statSync(path).mtimeMs < before) rmSync(path, { force: true });
  }
}

/** All records of the file with their lines; yields between pieces so that other requests are answered meanwhile. */
export async function* readRecords(
  id: string,
  how: Pick<Analysis, "delimiter" | "encoding">,
): AsyncGenerator<CsvRecord[], CsvReader["errors"]> {
  const reader = new CsvReader(how.delimiter);
  const decoder = new TextDecoder(how.encoding);
  const file = await open(importPath(id, "csv"));
  try {
    for await (const chunk of file.createReadStream({ highWaterMark: 256 * 1024 }))
      yield reader.push(decoder.decode(chunk as Buffer, { stream: true }));
    yield [...reader.push(decoder.decode()), ...reader.end()];
  } finally {
    await file.close().catch(() => {});
  }
  return reader.errors;
}

async function firstBytes(id: string, n: number): Promise<Buffer> {
  const file = await open(importPath(id, "csv"));
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(n), 0, n, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
}

async function encodingOf(id: string): Promise<Analysis["encoding"]> {
  const decoder = new TextDecoder("utf-8", { fatal: true });
  const file = await open(importPath(id, "csv"));
  try {
    for await (const chunk of file.createReadStream({ highWaterMark: 1024 * 1024 })) decoder.decode(chunk as Buffer, { stream: true });
    decoder.decode();
    return "utf-8";
  } catch {
    return "windows-1252";
  } finally {
    await file.close().catch(() => {});
  }
}

export async function analyse(id: string, asked: Asked = { sheet: null, headerAt: null }): Promise<Result<Analysis, string>> {
  const source = await unpack(id, asked.sheet);
  if (!source.ok) return source;
  const head = await firstBytes(id, 64 * 1024);
  if (head.length === 0) return err("The file is empty.");
  const kind = await fileTypeFromBuffer(head);
  if (kind) return err(`This is a ${kind.ext.toUpperCase()} file, whatever its name says. Save the table as XLSX or CSV and drop that.`);
  if (head.includes(0)) return err("This is not a text file. Save the table as CSV (UTF-8) and drop that.");
  const encoding = await encodingOf(id);
  const delimiter = guessDelimiter(new TextDecoder(encoding).decode(head));
  const first = firstRows(head, encoding, delimiter);
  const headerAt = asked.headerAt ?? guessHeader(first);
  const survey = new Survey(headerAt);
  const records = readRecords(id, { delimiter, encoding });
  try {
    for (;;) {
      const step = await records.next();
      if (step.done) {
        const open = step.value.find((e) => e.code === "open-quote");
        if (open)
          return err(
            `A quotation mark opened on line ${open.line} is never closed, so the rest of the file cannot be read as rows. Close or remove it, then drop the file again.`,
          );
        break;
      }
      const problem = survey.see(step.value);
      if (problem) return err(problem);
    }
  } finally {
    await records.return([]); // an early answer closes the file too
  }
  const { header, rows, ragged, blank, sample } = survey;
  if (!header) return err(source.value.kind === "sheet" ? "This sheet is empty." : "The file is empty.");
  if (rows === 0) return err("The file has a header but no rows.");
  const columns = survey.watches.map((w) => w.guess());
  return ok({ delimiter, encoding, header, sample, columns, rows, ragged, blank, source: source.value, headerAt, first });
}

/** The first rows that have something in them, as the page shows them. */
function firstRows(head: Buffer, encoding: Analysis["encoding"], delimiter: Delimiter): string[][] {
  return new CsvReader(delimiter)
    .push(new TextDecoder(encoding).decode(head))
    .filter((r) => !isBlank(r))
    .slice(0, FIRST)
    .map((r) => r.cells.slice(0, MOST_COLUMNS).map(cut));
}

/**
 * The row that names the columns: the first one that is as wide as most and has a different word in every cell. A title over the table has
 * one cell filled, or fewer.
 */
function guessHeader(first: readonly (readonly string[])[]): number {
  const filled = (r: readonly string[]): string[] => r.map((c) => c.trim()).filter(Boolean);
  const widths = first.map((r) => filled(r).length);
  const widest = Math.max(0, ...widths);
  const at = first.findIndex(
    (r, i) => widths[i]! >= Math.max(2, widest * 0.6) && new Set(filled(r).map((c) => c.toLowerCase())).size >= widths[i]! / 2,
  );
  return at > 0 && widths.slice(0, at).every((w) => w <= 1) ? at : 0;
}

/** Rows that the page shows, and characters of each of their cells: the page must not grow with what is in the file. */
const SAMPLES = 8;
const FIRST = 12;
const cut = (cell: string): string => (cell.length > 160 ? `${cell.slice(0, 159).toWellFormed()}…` : cell);
const LONGEST_NAME = 200;

/** What one reading of all records tells about them. */
class Survey {
  /** Rows with something in them, before the one that names the columns. */
  #before: number;
  header: string[] | null = null;
  blank = 0;
  rows = 0;
  ragged = 0;
  readonly sample: (readonly string[])[] = [];
  readonly watches: ColumnWatch[] = [];

  constructor(headerAt: number) {
    this.#before = headerAt;
  }

  /** A sentence if the header will not do. */
  see(records: readonly CsvRecord[]): string | null {
    for (const record of records) {
      if (isBlank(record)) {
        if (this.header) this.blank++;
        continue;
      }
      if (!this.header && this.#before > 0) {
        this.#before--;
        continue;
      }
      if (!this.header) {
        const problem = headerProblem(record.cells);
        if (problem) return problem;
        this.header = named(record.cells);
        for (const _ of this.header) this.watches.push(new ColumnWatch());
        continue;
      }
      this.rows++;
      if (record.cells.length !== this.header.length) this.ragged++;
      if (this.sample.length < SAMPLES) this.sample.push(record.cells.slice(0, this.header.length).map(cut));
      for (const [i, cell] of record.cells.entries()) this.watches[i]?.see(cell);
    }
    return null;
  }
}

function headerProblem(cells: readonly string[]): string | null {
  if (cells.length > MOST_COLUMNS) return `The file has ${cells.length} columns; at most ${MOST_COLUMNS} can be imported.`;
  const long = cells.findIndex((c) => c.trim().length > LONGEST_NAME);
  return long === -1
    ? null
    : `The name of column ${long + 1} is longer than ${LONGEST_NAME} characters: ${cut(cells[long]!.trim())} Is this the row that names the columns?`;
}

/** A column without a name is called by its place, and a second of the same name by its number. */
function named(cells: readonly string[]): string[] {
  const seen = new Set<string>();
  return cells.map((c, i) => {
    const name = c.trim() || `Column ${i + 1}`;
    let own = name;
    for (let n = 2; seen.has(own.toLowerCase()); n++) own = `${name} (${n})`;
    seen.add(own.toLowerCase());
    return own;
  });
}
