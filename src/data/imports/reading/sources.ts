/**
 * Sheets and lists of objects become CSV beside the upload, so that everything after reads one format. Whatever is wrong with such a file
 * is found here, in a thread of its own with a limit of memory.
 */
import { closeSync, existsSync, openSync, readFileSync, readSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { strFromU8, strToU8, unzipSync, zipSync } from "fflate";
import Papa from "papaparse";
import readSheets from "read-excel-file/node";
import yauzl from "yauzl";
import { err, ok, type Result } from "@/core/result";
import { importPath } from "./paths";

export type SourceKind = "text" | "sheet" | "json-lines";

export interface Source {
  readonly kind: SourceKind;
  /** Names of the sheets of a workbook, and which of them is read. */
  readonly sheets: readonly string[];
  readonly sheet: number;
}

/** What a workbook may take up when it is unpacked: a small archive can unpack to a disk full of it. */
const MOST_UNPACKED = 300 * 1024 * 1024;
const MOST_PARTS = 5_000;

const NOT_A_WORKBOOK =
  "This workbook cannot be read: it is damaged, protected by a password, or not an XLSX file. Save it again, or as CSV.";

/** What the archive holds, by its own list; nothing of it is unpacked. */
function measure(path: string): Promise<Result<null, string>> {
  return new Promise((done) => {
    yauzl.open(path, { lazyEntries: true, strictFileNames: true }, (e, zip) => {
      if (e || !zip) return done(err(NOT_A_WORKBOOK));
      let unpacked = 0;
      let book = false;
      const end = (r: Result<null, string>): void => {
        zip.close();
        done(r);
      };
      zip.on("error", () => end(err(NOT_A_WORKBOOK)));
      zip.on("entry", (entry: yauzl.Entry) => {
        unpacked += entry.uncompressedSize;
        book ||= entry.fileName === "xl/workbook.xml";
        if (unpacked > MOST_UNPACKED || zip.entryCount > MOST_PARTS)
          return end(err("Unpacked, this workbook is larger than 300 MB. Save the sheet as CSV and drop that."));
        zip.readEntry();
      });
      zip.on("end", () =>
        end(book ? ok(null) : err("This is a ZIP archive, but no workbook. Drop the table itself: XLSX, CSV or JSON lines.")),
      );
      zip.readEntry();
    });
  });
}

/** Spreadsheets hold 15 digits (ECMA-376 part 1, 18.17.5.2); what stands beyond in the file is an artefact of binary fractions. */
function figure(text: string): string {
  if (!/[.eE]/.test(text)) return text;
  const digits = text
    .replace(/[eE].*$/, "")
    .replace(/\D/g, "")
    .replace(/^0+/, "").length;
  return digits > 15 ? String(Number(Number(text).toPrecision(15))) : text;
}

function cellText(v: unknown): string {
  if (v === null || v === undefined) return "";
  if (v instanceof Date) {
    const iso = v.toISOString();
    return iso.endsWith("T00:00:00.000Z") ? iso.slice(0, 10) : iso.slice(0, 19).replace("T", " ");
  }
  if (typeof v === "boolean") return v ? "yes" : "no";
  const text = String(v);
  return /^-?\d+(\.\d+)?([eE][-+]?\d+)?$/.test(text) ? figure(text) : text;
}

const lines = (rows: readonly (readonly unknown[])[]): string =>
  Papa.unparse(
    rows.map((r) => r.map(cellText)),
    { newline: "\r\n" },
  );

/**
 * Cells and rows that hold nothing but their looks, which some programs write down to the last row of the sheet: the reader would make a
 * million rows of them.
 */
function withoutEmpties(path: string): Buffer {
  const parts = unzipSync(readFileSync(path));
  for (const [name, bytes] of Object.entries(parts)) {
    if (!/^xl\/worksheets\/[^/]+\.xml$/.test(name)) continue;
    const sheet = strFromU8(bytes)
      .replace(/<c\b[^<>]*\/>|<c\b[^<>]*>\s*<\/c>/g, "")
      .replace(/<row\b[^<>]*\/>|<row\b[^<>]*>\s*<\/row>/g, "");
    parts[name] = strToU8(sheet);
  }
  return Buffer.from(zipSync(parts, { level: 0 }));
}

async function fromWorkbook(id: string, asked: number | null): Promise<Result<Source, string>> {
  const path = importPath(id, "xlsx");
  const measured = await measure(path);
  if (!measured.ok) return measured;
  let sheets: { sheet: string; data: unknown[][] }[];
  try {
    // Numbers as they stand in the file: a double would change those of more than 15 digits.
    sheets = (await readSheets(withoutEmpties(path), { parseNumber: (s: string) => s, trim: false } as never)) as never;
  } catch {
    return err(NOT_A_WORKBOOK);
  }
  // A sheet of notes before the table is not what was meant.
  const filled = sheets.findIndex((s) => s.data.filter((r) => r.some((c) => c !== null && c !== "")).length > 1);
  const sheet = asked ?? Math.max(0, filled);
  const chosen = sheets[sheet];
  if (!chosen) return err("This workbook has no such sheet.");
  writeFileSync(importPath(id, "csv"), lines(chosen.data), { mode: 0o600 });
  return ok({ kind: "sheet", sheets: sheets.map((s) => s.sheet), sheet });
}

const TOKEN = /"(?:[^"\\]|\\.)*"|-?\d[\d.eE+-]*/g;
/** Figures of more digits than a double has (15 are safe, IEEE 754) stay as they are written: as text, which the check then reads. */
const exact = (token: string): string =>
  !token.startsWith('"') && token.replace(/[eE].*$/, "").replace(/\D/g, "").length > 15 ? `"${token}"` : token;

/** One object a line (the JSON Lines convention, each line a text of RFC 8259). The columns are all keys, in the order they are met. */
function fromJsonLines(id: string): Result<Source, string> {
  const keys = new Set<string>();
  const objects: Record<string, unknown>[] = [];
  for (const [i, line] of readFileSync(importPath(id, "jsonl"), "utf8")
    .replace(/^\ufeff/, "")
    .split(/\r?\n/)
    .entries()) {
    if (line.trim() === "") continue;
    let value: unknown;
    try {
      value = JSON.parse(line.replace(TOKEN, exact));
    } catch {
      return err(`Line ${i + 1} is not JSON. Each line is one object, such as {"name": "Ada"}.`);
    }
    if (typeof value !== "object" || value === null || Array.isArray(value))
      return err(`Line ${i + 1} is no object. Each line is one, such as {"name": "Ada"}.`);
    const object = value as Record<string, unknown>;
    for (const k of Object.keys(object)) keys.add(k);
    objects.push(object);
  }
  const names = [...keys];
  writeFileSync(importPath(id, "csv"), lines([names, ...objects.map((o) => names.map((k) => jsonText(o[k])))]), { mode: 0o600 });
  return ok({ kind: "json-lines", sheets: [], sheet: 0 });
}

/** Related records and money as the HTTP API writes them are read as their names and amounts. */
function jsonText(v: unknown): unknown {
  if (Array.isArray(v)) return v.map(jsonText).join("; ");
  if (typeof v !== "object" || v === null) return v;
  const o = v as { label?: unknown; amount?: unknown; currency?: unknown };
  return o.label ?? JSON.stringify(v);
}

function beginning(path: string): string {
  const file = openSync(path, "r");
  try {
    const bytes = Buffer.alloc(4096);
    return bytes.subarray(0, readSync(file, bytes, 0, bytes.length, 0)).toString("latin1");
  } finally {
    closeSync(file);
  }
}

/** Makes the CSV that is read, if the upload is none. `sheet` is the number of a workbook's sheet, from 0; the first with rows where null. */
export async function unpack(id: string, sheet: number | null): Promise<Result<Source, string>> {
  const csv = importPath(id, "csv");
  if (existsSync(importPath(id, "xlsx"))) return fromWorkbook(id, sheet);
  if (existsSync(importPath(id, "jsonl"))) return fromJsonLines(id);
  const head = beginning(csv);
  if (head.startsWith("PK\u0003\u0004")) {
    renameSync(csv, importPath(id, "xlsx"));
    return fromWorkbook(id, sheet);
  }
  if (/^(?:\u00ef\u00bb\u00bf)?\s*\{\s*"/.test(head)) {
    renameSync(csv, importPath(id, "jsonl"));
    return fromJsonLines(id);
  }
  return ok({ kind: "text", sheets: [], sheet: 0 });
}

export function removeUpload(id: string): void {
  for (const ending of ["csv", "xlsx", "jsonl"] as const) rmSync(importPath(id, ending), { force: true });
}
