/** Rows as they come from a source, as the file that imports take. */
import { Readable } from "node:stream";
import { csvLines } from "@/core/exchange/write-csv";
import type { SourceRows, SourceTable } from "./contract";

/** Rows of another system as a CSV file, written while they come. */
export function asFile(rows: SourceRows): SourceTable {
  async function* lines(): AsyncGenerator<Buffer> {
    yield Buffer.from(csvLines([rows.header]));
    for await (const piece of rows.pieces) yield Buffer.from(csvLines(piece));
  }
  return { fileName: rows.fileName, body: Readable.toWeb(Readable.from(lines())) as ReadableStream<Uint8Array> };
}
