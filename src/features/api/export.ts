/** Exports: a small list is answered where it is asked for; a large one is written by a thread and sent from its file. */
import { randomUUID } from "node:crypto";
import { open, rm } from "node:fs/promises";
import { join } from "node:path";
import { Readable } from "node:stream";
import type { Table } from "@/core/schema/types";
import type { ListQuery } from "@/data/records/query/where";
import { exportFile, FORMATS, type Format, MOST_XLSX } from "./export-files";
import { exportFolder, exportTask } from "./export-task";
import { exportLater, prefersLater } from "./exports-later";
import { invalid, Problem } from "./problem";
import { listQuery } from "./query";
import { type ApiRequest, openTable } from "./route";

/** Records that take a few milliseconds: less than a thread takes to begin. Fewer than a piece, so their cursor is at its end at once. */
const SMALL = 300;
const TYPES: Record<Format, string> = {
  csv: "text/csv; charset=utf-8",
  json: "application/json",
  xlsx: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
};

const isFormat = (s: string): s is Format => (FORMATS as readonly string[]).includes(s);

/** GET a whole list as CSV, XLSX or JSON; 202 with where to ask where the client prefers to wait elsewhere (RFC 7240). */
export async function getExport(r: ApiRequest): Promise<Response> {
  const table = openTable(r);
  const format = r.query.get("format") ?? "csv";
  if (!isFormat(format)) throw invalid("The format is csv, json or xlsx.", [{ field: "format", message: "csv, json or xlsx" }]);
  if (!r.desk.may(table, "export")) throw new Problem("not-allowed", `Your roles do not let you download ${table.name}.`);
  const { query } = listQuery(r, table);
  const total = r.desk.count(table, { ...query, forExport: true });
  if (format === "xlsx" && total > MOST_XLSX)
    throw invalid(`A spreadsheet takes at most ${MOST_XLSX.toLocaleString("en")} rows here; narrow the list or take CSV.`);
  const headers = {
    "content-type": TYPES[format],
    "content-disposition": `attachment; filename="${table.slug}.${format}"`,
    "cache-control": "private, no-store",
  };
  if (prefersLater(r.request.headers.get("prefer"))) return exportLater(r, table, query, format, headers);
  if (total > SMALL) return large(r, table, query, format, headers);
  const parts: Uint8Array[] = [];
  for await (const piece of exportFile(r.desk, table, query, format)) parts.push(Buffer.from(piece));
  return new Response(Buffer.concat(parts), { headers });
}

/** The file is whole before its first byte goes out: what fails on the way is told, and no half file looks like a whole one. */
async function large(r: ApiRequest, table: Table, query: ListQuery, format: Format, headers: Record<string, string>): Promise<Response> {
  const path = join(exportFolder(), randomUUID());
  try {
    const bytes = await exportTask.do({ portal: r.slug, table: table.id, query, format, path }, r.viewer);
    const file = await open(path);
    const body = Readable.toWeb(file.createReadStream()) as ReadableStream<Uint8Array>;
    return new Response(body, { headers: { ...headers, "content-length": String(bytes) } });
  } finally {
    await rm(path, { force: true }); // what is open can be read to its end
  }
}
