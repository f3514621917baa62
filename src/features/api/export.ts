/** Exports: the viewer's rows and fields only, a page at a time so that a large table does not fill the memory. */
import writeXlsx, { type SheetData } from "write-excel-file/node";
import { recordJson, toCell } from "@/core/exchange/present";
import { BYTE_ORDER_MARK, csvLines } from "@/core/exchange/write-csv";
import type { SeenRecord } from "@/core/records";
import type { Field, Table } from "@/core/schema/types";
import type { ListQuery } from "@/data/records/query/read";
import { invalid, Problem } from "./problem";
import { listQuery } from "./query";
import { type ApiRequest, openTable } from "./route";

const PIECE = 500;
const MOST_XLSX = 50_000;

function* pieces(r: ApiRequest, table: Table, query: ListQuery): Generator<SeenRecord[]> {
  let after = query.after;
  for (;;) {
    const { offset: _, ...rest } = query;
    const page = r.desk.list(table, {
      ...rest,
      ...(after ? { after } : {}),
      limit: PIECE,
      forExport: true,
    });
    yield page.records;
    const next = page.next();
    if (!next) return;
    after = next;
  }
}

/** Columns that could show in both seeing and exporting; a cell hidden on its row is empty in a sheet, absent in JSON. */
function exportFields(r: ApiRequest, table: Table): Field[] {
  const exported = new Set(r.desk.known(table, "export"));
  return r.desk.known(table).filter((f) => exported.has(f));
}

export async function getExport(r: ApiRequest): Promise<Response> {
  const table = openTable(r);
  const format = r.query.get("format") ?? "csv";
  if (!["csv", "json", "xlsx"].includes(format))
    throw invalid("The format is csv, json or xlsx.", [{ field: "format", message: "csv, json or xlsx" }]);
  if (!r.desk.may(table, "export")) throw new Problem("not-allowed", `Your roles do not let you download ${table.name}.`);
  const { query } = listQuery(r, table);
  const fields = exportFields(r, table);
  const headers = (type: string) => ({
    "content-type": type,
    "content-disposition": `attachment; filename="${table.slug}.${format}"`,
    "cache-control": "private, no-store",
  });
  if (format === "json") {
    const records = [...pieces(r, table, query)].flat().map((x) => recordJson(table, x));
    return new Response(JSON.stringify({ records }), { headers: headers("application/json") });
  }
  if (format === "xlsx")
    return new Response(await xlsx(fields, pieces(r, table, query)), {
      headers: headers("application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"),
    });
  return new Response(csvStream(fields, pieces(r, table, query)), { headers: headers("text/csv; charset=utf-8") });
}

function csvStream(fields: readonly Field[], parts: Generator<SeenRecord[]>): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  return new ReadableStream({
    start(c) {
      c.enqueue(encoder.encode(BYTE_ORDER_MARK + csvLines([fields.map((f) => f.name)])));
    },
    pull(c) {
      const { value, done } = parts.next();
      if (done) c.close();
      else if (value.length > 0) c.enqueue(encoder.encode(csvLines(value.map((x) => fields.map((f) => toCell(f, x.fields[f.id]))))));
      else if (value.length === 0) c.close();
    },
  });
}

async function xlsx(fields: readonly Field[], parts: Generator<SeenRecord[]>): Promise<BodyInit> {
  const rows: SheetData = [fields.map((f) => ({ value: f.name, fontWeight: "bold" as const }))];
  for (const part of parts) {
    if (rows.length + part.length > MOST_XLSX)
      throw invalid(`A spreadsheet takes at most ${MOST_XLSX.toLocaleString("en")} rows here; narrow the list or take CSV.`);
    // Cells are typed: text is text, and no spreadsheet reads it as a formula.
    for (const x of part)
      rows.push(
        fields.map((f) =>
          ((v) => (v === null ? null : typeof v === "number" ? { value: v, type: Number } : { value: String(v), type: String }))(
            toCell(f, x.fields[f.id]),
          ),
        ),
      );
  }
  const made = (await writeXlsx(rows)) as unknown as { toBuffer?: () => Promise<Buffer> };
  const buffer = made.toBuffer ? await made.toBuffer() : (made as unknown as Buffer);
  return new Uint8Array(buffer);
}
