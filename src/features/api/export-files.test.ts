import { inflateRawSync } from "node:zlib";
import Papa from "papaparse";
import { expect, it } from "vitest";
import { Policy } from "@/core/access/policy";
import type { Owner } from "@/core/access/who/viewer";
import { Desk } from "@/data/records/desk";
import { insertRow } from "@/data/tables/store";
import { MADE, makeTestSchema, memoryPortal, testViewer } from "@/testing/world";
import { exportFile, type Format } from "./export-files";

const file = memoryPortal();
const { schema, t } = makeTestSchema(file);
const table = schema.table(t.signs);
const field = (slug: string): string => table.fields.find((f) => f.slug === slug)!.id;
const desk = new Desk(
  file,
  new Policy(schema, { roles: [], walls: {}, grants: [] }),
  testViewer({ kind: "owner", company: null }) as Owner,
);
const ROWS = 1_201; // more than two pieces

for (let i = 0; i < ROWS; i++) {
  const values = {
    [field("code")]: `N-${i}`,
    [field("fitted")]: "2026-11-05",
    [field("cost")]: 1_250 + i,
    [field("lit")]: i % 2 === 0,
    [field("note")]: i === 7 ? '=1+1\nsecond "line"' : null,
  };
  insertRow(file, table, `n${String(i).padStart(5, "0")}`, values, MADE);
}

async function whole(format: Format, query = {}): Promise<Buffer> {
  const parts: Buffer[] = [];
  for await (const piece of exportFile(desk, table, { limit: 1, ...query }, format)) parts.push(Buffer.from(piece));
  return Buffer.concat(parts);
}
/** A file within a ZIP archive, by its local header (APPNOTE.TXT, 4.3.7). */
function unzipped(zip: Buffer, name: string): string {
  const at = zip.indexOf(name) - 30;
  const from = at + 30 + zip.readUInt16LE(at + 26) + zip.readUInt16LE(at + 28);
  return inflateRawSync(zip.subarray(from)).toString();
}

it("CSV and JSON have every record once, in the list's order, whatever the list's limit", async () => {
  const sort = [{ field: field("cost"), descending: true }];
  const csv = Papa.parse<string[]>((await whole("csv", { sort })).toString().replace("\ufeff", "").trim()).data;
  const json = JSON.parse((await whole("json", { sort })).toString()) as { records: { id: string; fields: { code: string } }[] };
  expect([csv.length, json.records.length, new Set(json.records.map((r) => r.id)).size]).toEqual([ROWS + 1, ROWS, ROWS]);
  expect(csv.slice(1).map((r) => r[0])).toEqual(json.records.map((r) => r.fields.code));
  expect(json.records[0]!.fields.code).toBe(`N-${ROWS - 1}`);
  expect(csv.find((r) => r[0] === "N-7")).toContain('\'=1+1\nsecond "line"');
  expect(JSON.parse((await whole("json", { search: "nothing such" })).toString())).toEqual({ records: [] });
});

// ISO/IEC 29500-1: 18.3.1.66 pane, 18.3.1.13 col, 18.3.1.4 c (t="b" is a boolean), 18.8.31 numFmts.
it("a spreadsheet's first row stays in sight, its columns fit, and its cells are of their types", async () => {
  const zip = await whole("xlsx");
  const sheet = unzipped(zip, "xl/worksheets/sheet1.xml");
  expect(sheet).toMatch(/<pane [^>]*ySplit="1"[^>]*state="frozen"/);
  expect(sheet.match(/<col [^>]*width="[\d.]+"/g)).toHaveLength(table.fields.length);
  expect(sheet).toMatch(/<c [^>]*t="b"[^>]*><v>1<\/v>/);
  expect(sheet.match(/<row /g)).toHaveLength(ROWS + 1);
  const styles = unzipped(zip, "xl/styles.xml");
  expect(styles).toContain("d mmm yyyy");
  expect(styles).toMatch(/formatCode="(&quot;£&quot;|"£")#,##0\.00"/);
});
