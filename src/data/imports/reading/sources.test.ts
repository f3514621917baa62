/** Workbooks written by another library than the one that reads them, JSON lines, and what bad files of all kinds come to. */

import { readdirSync } from "node:fs";
import { join } from "node:path";
import { strToU8, zipSync } from "fflate";
import { beforeAll, describe, expect, it } from "vitest";
import writeSheets from "write-excel-file/node";
import type { Owner } from "@/core/access/who/viewer";
import { ownFolder } from "@/testing/folder";
import { PUBLISHER, testViewer } from "@/testing/world";
import type { PortalFile } from "../../file/open";
import { createPortal } from "../../installation/portals";
import { beginImport, importJob, readAgain } from "../jobs";
import { suggestPlan } from "../proposing/suggest";

const folder = ownFolder();
const owner = testViewer({ kind: "owner", company: null }) as Owner;
let file: PortalFile;
beforeAll(() => {
  const made = createPortal("sources", "P", PUBLISHER);
  if ("problem" in made) throw new Error(made.problem);
  file = made.file;
});

async function drop(content: string | Uint8Array, name = "t.xlsx") {
  const begun = await beginImport(file, owner, name, new Blob([content as never]).stream());
  return begun.ok ? importJob(file, owner, begun.value.id)! : begun.error;
}
const job = async (...given: Parameters<typeof drop>) => {
  const found = await drop(...given);
  if (typeof found === "string") throw new Error(found);
  return found;
};
type Cells = { value: unknown; type?: unknown; format?: string }[][];
async function workbook(sheets: Cells[], names: string[]): Promise<Uint8Array> {
  const all = sheets.map((data, i) => ({ data, sheet: names[i] }));
  const made = (await writeSheets(all as never)) as unknown as { toBuffer(): Promise<Buffer> };
  return new Uint8Array(await made.toBuffer());
}
const row = (...values: unknown[]): Cells[number] =>
  values.map((value) => (value instanceof Date ? { value, type: Date, format: "yyyy-mm-dd hh:mm" } : { value }));

/** The archive's list says so many bytes of its last file: what is measured before anything is unpacked (PKWARE APPNOTE 4.3.12). */
function said(zip: Uint8Array, bytes: number): Uint8Array<ArrayBuffer> {
  const copy = Buffer.from(zip);
  copy.writeUInt32LE(bytes, copy.lastIndexOf(Buffer.from([0x50, 0x4b, 1, 2])) + 24);
  return new Uint8Array(copy);
}

describe("workbooks", () => {
  it("a sheet is chosen; titles over the table and blank rows are passed over; every value is what it was", async () => {
    const notes = [row("Nothing to see")];
    const signs = [
      row("Signs of the year", null, null, null, null),
      row(null, null, null, null, null),
      row("Code", "Size", "Fitted", "Lit", "Note"),
      row("A-1", 12.5, new Date(Date.UTC(2026, 5, 15)), true, "Ünïcode, 日本語, مرحبا 🎉"),
      row(null, null, null, null, null),
      row("A-2", 0.1 + 0.2, new Date(Date.UTC(2026, 5, 15, 10, 30)), false, 'tab\t"quote"\nline'),
    ];
    const first = await job(await workbook([notes, signs], ["Notes", "Signs"]), "signs.xlsx");
    expect(first.analysis.source).toEqual({ kind: "sheet", sheets: ["Notes", "Signs"], sheet: 1 });
    expect(await readAgain(file, owner, first.id, { sheet: 0, headerAt: null })).toEqual({
      ok: false,
      error: "The file has a header but no rows.",
    });
    expect((await readAgain(file, owner, first.id, { sheet: 1, headerAt: null })).ok).toBe(true);
    const { analysis } = importJob(file, owner, first.id)!;
    expect([analysis.header, analysis.headerAt, analysis.blank]).toEqual([["Code", "Size", "Fitted", "Lit", "Note"], 1, 1]);
    expect(analysis.sample).toEqual([
      ["A-1", "12.5", "2026-06-15", "yes", "Ünïcode, 日本語, مرحبا 🎉"],
      ["A-2", "0.3", "2026-06-15 10:30:00", "no", 'tab\t"quote"\nline'],
    ]);
    expect(analysis.columns.map((c) => c.type)).toEqual(["text", "number", "date-time", "yes-no", "text"]);
  });

  const parts = (sheet: string) => ({
    "[Content_Types].xml": strToU8(
      '<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/></Types>',
    ),
    "xl/workbook.xml": strToU8(
      '<?xml version="1.0"?><workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheets><sheet name="S" sheetId="1" r:id="rId1"/></sheets></workbook>',
    ),
    "xl/_rels/workbook.xml.rels": strToU8(
      '<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet" Target="worksheets/sheet1.xml"/></Relationships>',
    ),
    "xl/worksheets/sheet1.xml": strToU8(
      `<?xml version="1.0"?><worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>${sheet}</sheetData></worksheet>`,
    ),
  });
  const text = (at: string, t: string) => `<c r="${at}" t="inlineStr"><is><t>${t}</t></is></c>`;

  it("whole numbers of more than 15 digits stay as they stand in the file", async () => {
    const sheet = `<row r="1">${text("A1", "No")}${text("B1", "N")}</row><row r="2"><c r="A2"><v>12345678901234567891</v></c><c r="B2"><v>12.300000000000001</v></c></row>`;
    const { analysis } = await job(zipSync(parts(sheet)));
    expect([analysis.sample, analysis.columns[0]!.type]).toEqual([[["12345678901234567891", "12.3"]], "text"]);
  });

  it("a million empty rows are no rows", { timeout: 120_000 }, async () => {
    const empty = Array.from({ length: 1_000_000 }, (_, i) => `<row r="${i + 3}"/>`).join("");
    const sheet = `<row r="1">${text("A1", "Name")}${text("B1", "N")}</row><row r="2">${text("A2", "x")}<c r="B2"><v>1</v></c></row>${empty}`;
    const found = await drop(zipSync(parts(sheet)));
    expect(typeof found === "string" ? found : [found.analysis.rows, found.analysis.header]).toEqual([1, ["Name", "N"]]);
  });

  it.each([
    ["cut short", async () => (await workbook([[row("A"), row("1")]], ["S"])).subarray(0, 900), "This workbook cannot be read"],
    ["an archive of something else", async () => zipSync({ "notes.txt": strToU8("x") }), "This is a ZIP archive, but no workbook."],
    ["names that lead out of it", async () => zipSync({ ...parts(""), "../../evil.xml": strToU8("x") }), "This workbook cannot be read"],
    ["without its sheet", async () => zipSync({ "xl/workbook.xml": strToU8("<workbook/>") }), /cannot be read|no such sheet/],
    [
      "an archive that unpacks to more than a disk",
      async () => said(zipSync({ ...parts(""), "xl/media/x.bin": new Uint8Array(1_000) }), 310 * 1024 * 1024),
      "larger than 300 MB",
    ],
    ["an empty sheet", async () => zipSync(parts("")), /empty/],
  ] as const)("%s is refused, and nothing of it stays", { timeout: 60_000 }, async (_, make, words) => {
    expect(await drop(await make())).toMatch(words);
    expect(readdirSync(join(folder, "imports")).filter((f) => /xlsx$/.test(f)).length).toBeLessThanOrEqual(3); // those of the tests before
  });
});

describe("texts", () => {
  it("JSON lines: the columns are all keys; what is no object is named by its line", async () => {
    const lines = '{"name": "Ada", "born": 1815, "site": {"id": "x", "label": "Yard"}}\n\n{"name": "Bo", "tags": ["a", "b"]}\n';
    const { analysis } = await job(lines, "people.jsonl");
    expect([analysis.header, analysis.sample]).toEqual([
      ["name", "born", "site", "tags"],
      [
        ["Ada", "1815", "Yard", ""],
        ["Bo", "", "", "a; b"],
      ],
    ]);
    const figures = await job(
      '{"n": 12345678901234567891, "d": 0.30000000000000004, "e": 1e3, "s": "1 \\"2 12345678901234567891"}\n',
      "n.jsonl",
    );
    expect(figures.analysis.sample).toEqual([["12345678901234567891", "0.3", "1000", '1 "2 12345678901234567891']]);
    expect(await drop('{"a": 1}\n[1]\n', "x.jsonl")).toBe('Line 2 is no object. Each line is one, such as {"name": "Ada"}.');
  });

  it("200 columns, names twice and without one, a header that is not the first row", async () => {
    const wide = (n: number) =>
      `${Array.from({ length: n }, (_, i) => `C${i}`).join(",")}\n${Array.from({ length: n }, (_, i) => i).join(",")}\n`;
    expect((await job(wide(200), "w.csv")).analysis.header).toHaveLength(200);
    expect(await drop(wide(201), "w.csv")).toBe("The file has 201 columns; at most 200 can be imported.");
    const { analysis } = await job("List of the works\n\nName,,name\na,b,c\n", "n.csv");
    expect([analysis.header, analysis.headerAt]).toEqual([["Name", "Column 2", "name (2)"], 1]);
  });

  it("the name of a record is guessed, never the town", async () => {
    const plan = async (csv: string) => {
      const found = await job(csv, "t.csv");
      return found.analysis.header[suggestPlan({ file, owner, analysis: found.analysis, fileName: "t.csv" }, null).title!];
    };
    const rows = (n: number, make: (i: number) => string) => Array.from({ length: n }, (_, i) => make(i)).join("\n");
    expect(await plan(`Town,Client,Title,Since\n${rows(9, (i) => `Town ${i},C${i % 2},Work ${i},2020`)}`)).toBe("Title");
    expect(await plan(`City,Ref,Text\n${rows(9, (i) => `City ${i},R-${i},words ${i % 3}`)}`)).toBe("Ref");
    expect(await plan(`Town,Remark\n${rows(9, (i) => `Town ${i},remark ${i}`)}`)).toBe("Remark");
  });
});
