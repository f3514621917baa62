/** A list as a file: CSV and JSON piece by piece, a spreadsheet as a whole. */

import writeXlsx, { type Cell, type SheetData } from "write-excel-file/node";
import { recordJson, toCell } from "@/core/exchange/present";
import { BYTE_ORDER_MARK, csvLines } from "@/core/exchange/write-csv";
import { type SheetCell, sheetCell, widthOf } from "@/core/exchange/write-sheet";
import type { Field, Table } from "@/core/schema/types";
import type { Desk } from "@/data/records/desk";
import type { ListQuery } from "@/data/records/query/where";

export const FORMATS = ["csv", "json", "xlsx"] as const;
export type Format = (typeof FORMATS)[number];
/** A spreadsheet is made in memory. */
export const MOST_XLSX = 50_000;

/** Columns that could show in both seeing and exporting; a cell hidden on its row is empty in a sheet, absent in JSON. */
function exportFields(desk: Desk, table: Table): Field[] {
  const exported = new Set(desk.known(table, "export"));
  return desk.known(table).filter((f) => exported.has(f));
}

/** The file's pieces: the viewer's rows and fields only. */
export async function* exportFile(desk: Desk, table: Table, query: ListQuery, format: Format): AsyncGenerator<string | Uint8Array> {
  const fields = exportFields(desk, table);
  const pieces = desk.each(table, { ...query, forExport: true });
  if (format === "csv") {
    yield BYTE_ORDER_MARK + csvLines([fields.map((f) => f.name)]);
    for (const piece of pieces) yield csvLines(piece.map((x) => fields.map((f) => toCell(f, x.fields[f.id]))));
  } else if (format === "json") {
    let between = '{"records":[';
    for (const piece of pieces) {
      yield between + piece.map((x) => JSON.stringify(recordJson(table, x))).join(",");
      between = ",";
    }
    yield between === "," ? "]}" : `${between}]}`;
  } else {
    const rows: SheetCell[][] = [];
    for (const piece of pieces) for (const x of piece) rows.push(fields.map((f) => sheetCell(f, x.fields[f.id])));
    yield await sheet(fields, rows);
  }
}

const TYPES = { text: String, number: Number, "yes-no": Boolean, date: Date } as const;

async function sheet(fields: readonly Field[], rows: readonly (readonly SheetCell[])[]): Promise<Uint8Array> {
  const header: SheetData = [fields.map((f) => ({ value: f.name, fontWeight: "bold" as const }))];
  const longest = fields.map((_, i) => rows.slice(0, 1_000).reduce((most, r) => Math.max(most, lengthOf(r[i] ?? null)), 0));
  const data = header.concat(rows.map((r) => r.map((c): Cell => c && ({ ...c, type: TYPES[c.type] } as Cell))));
  const columns = fields.map((f, i) => ({ width: widthOf(f.name, longest[i]!) }));
  return new Uint8Array(await writeXlsx(data, { columns, stickyRowsCount: 1 }).toBuffer());
}

const lengthOf = (c: SheetCell): number =>
  c === null ? 0 : c.type === "date" ? 11 : c.type === "number" ? String(c.value).length + 3 : String(c.value).length;
