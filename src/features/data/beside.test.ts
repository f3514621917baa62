/** Files that a table names, from a ZIP archive beside it: kept, given to records, the same again, refused, and taken back. */
import { readdirSync } from "node:fs";
import { join } from "node:path";
import { strToU8, zipSync } from "fflate";
import sharp from "sharp";
import { beforeAll, describe, expect, it } from "vitest";
import type { ImportPlan } from "@/core/exchange/import-plan";
import type { FileRef } from "@/core/schema/seen";
import { keepContentsIn } from "@/data/files/store";
import { sweepFiles } from "@/data/files/uploads";
import { appendFiles, beginFiles, comingFiles, takeFilesAway } from "@/data/imports/archives";
import { bringInImport, type ImportJob, importJob, takeBackImport } from "@/data/imports/jobs";
import { filesNamed } from "@/data/imports/reading/beside";
import { addField } from "@/data/tables/change";
import { folderFiles } from "@/services/files/folder";
import { ImportTrial, importFolder, owner } from "@/testing/import-folder";

importFolder();
beforeAll(() => keepContentsIn(folderFiles));

const PDF = strToU8("%PDF-1.7\n1 0 obj\n<<>>\nendobj\ntrailer\n<<>>\n%%EOF\n");
const picture = async (red: number): Promise<Uint8Array> =>
  new Uint8Array(
    await sharp({ create: { width: 40, height: 20, channels: 3, background: { r: red, g: 0, b: 0 } } })
      .jpeg()
      .toBuffer(),
  );

type Parts = Record<string, Uint8Array>;
async function beside(p: ImportTrial, job: ImportJob, zip: Uint8Array, pieces = 1) {
  const begun = beginFiles(p.file, owner, job.id, { name: "files.zip", bytes: zip.length });
  if (!begun.ok) return begun;
  const size = Math.ceil(zip.length / pieces);
  for (let at = 0; ; at += size) {
    const done = await appendFiles(p.file, owner, job.id, at, new Blob([zip.slice(at, at + size)]).stream());
    if (!done.ok || at + size >= zip.length) return done;
  }
}

/** Vases with photographs and papers. */
async function shelf() {
  const p = new ImportTrial();
  await p.bring("Vase,Town\nTall,Wexcombe\nFlat,Wexcombe\nDeep,Tarn\n", (job) => ({ ...p.suggest(job), table: { name: "Vases" } }));
  const table = p.table("vases").id;
  const photos = addField(p.file, table, { slug: "photos", name: "Photos", type: "pictures" });
  const papers = addField(p.file, table, { slug: "papers", name: "Papers", type: "files" });
  const plan = (job: ImportJob): ImportPlan => ({ ...p.suggest(job, table), key: 0 });
  const check = async (text: string, parts: Parts | null, pieces = 1) => {
    const job = await p.drop(text);
    if (parts) expect(await beside(p, job, zipSync(parts), pieces)).toMatchObject({ ok: true });
    return p.check(importJob(p.file, owner, job.id)!, plan(job));
  };
  const named = (vase: string, field: string) => (p.named("vases", vase).fields[field] as readonly FileRef[]).map((f) => [f.name, f.type]);
  return { p, photos, papers, check, named };
}

const TABLE = 'Vase,Photos,Papers\nTall,front.jpg; side.jpg,care.pdf\nFlat,,"care.pdf; old/list, of 1.pdf"\nDeep,FRONT.JPG,\n';
const parts = async (): Promise<Parts> => ({
  "pictures/front.jpg": await picture(200),
  "pictures/side.jpg": await picture(90),
  "care.pdf": PDF,
  "old/list, of 1.pdf": PDF,
  "unnamed.pdf": strToU8("nobody asks for this"),
  "__MACOSX/care.pdf": strToU8("junk"),
});

describe("files beside a table", () => {
  it("go to the records whose cells name them; the same again changes nothing; another content changes one", async () => {
    const { p, photos, papers, check, named } = await shelf();
    const job = await check(TABLE, await parts(), 7);
    expect(job.archive).toMatchObject({ name: "files.zip", files: 5 });
    expect(job.result).toMatchObject({ fresh: 0, changed: 3, bad: 0 });
    expect(job.result!.examples[0]!.changes[0]).toEqual({ field: "Photos", before: "", after: "front.jpg; side.jpg" });
    expect((await bringInImport(p.file, owner, job.id)).ok).toBe(true);
    expect(named("Tall", photos)).toEqual([
      ["front.jpg", "image/jpeg"],
      ["side.jpg", "image/jpeg"],
    ]);
    expect(named("Flat", papers)).toEqual([
      ["care.pdf", "application/pdf"],
      ["list, of 1.pdf", "application/pdf"],
    ]);
    expect(named("Deep", photos)).toEqual([["front.jpg", "image/jpeg"]]);
    // Each record has files of its own: taking them from one takes them from nobody else.
    const ids = p.file.db.prepare("SELECT record_id FROM sys_files WHERE name = 'care.pdf' AND record_id IS NOT NULL").pluck().all();
    expect(new Set(ids).size).toBe(2);

    expect((await check(TABLE, await parts())).result).toMatchObject({ changed: 0, same: 3, bad: 0 });
    // An export names what is there: without any archive it is the same.
    expect((await check(TABLE.replace("old/", ""), null)).result).toMatchObject({ changed: 0, same: 3, bad: 0 });
    const other = await check(TABLE, { ...(await parts()), "pictures/side.jpg": await picture(5) });
    expect(other.result).toMatchObject({ changed: 1, same: 2 });
    await bringInImport(p.file, owner, other.id);
    await sweepFiles(p.file, "2999-01-01");
    expect(named("Tall", photos)).toHaveLength(2);
    expect(await takeBackImport(p.file, owner, other.id, false)).toMatchObject({ ok: true, value: { restored: 1 } });
    expect((await check(TABLE, await parts())).result).toMatchObject({ same: 3 });
  });

  it("what is not there, not clear or not fit is named with its line", async () => {
    const { check } = await shelf();
    const none = await check("Vase,Photos\nTall,front.jpg\n", null);
    expect(none.result!.problems).toEqual([
      { line: 2, column: "Photos", reason: "Drop a ZIP archive with the file “front.jpg” beside the table." },
    ]);
    const svg = strToU8('<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>');
    const zip = {
      "a/x.jpg": await picture(1),
      "b/x.jpg": await picture(2),
      "cut.jpg": (await picture(3)).slice(0, 150),
      "p.png": PDF,
      "s.svg": svg,
      "e.jpg": new Uint8Array(),
    };
    const bad = await check("Vase,Photos\nTall,gone.jpg\nFlat,x.jpg\nDeep,b/x.jpg\nA,cut.jpg\nB,p.png\nC,s.svg\nD,e.jpg\n", zip);
    expect(bad.result!.problems.map((x) => `${x.line} ${x.reason}`)).toEqual([
      "2 There is no file “gone.jpg” in the ZIP archive.",
      "3 There are several files called “x.jpg” in the ZIP archive. Name it with its folder.",
      "5 “cut.jpg”: This picture is damaged, or takes too long to read. Save it again and choose that.",
      "6 “p.png”: This is no picture that can be shown (it is application/pdf). Choose a JPEG, PNG, WebP or GIF.",
      "7 “s.svg”: This is no picture that can be shown (it is image/svg+xml). Choose a JPEG, PNG, WebP or GIF.",
      "8 “e.jpg”: This file is empty.",
    ]);
    expect(bad.result).toMatchObject({ changed: 1, bad: 6 });
  });

  it("archives that lead out of themselves, are locked, damaged or none are refused, and the table stays", async () => {
    const { p } = await shelf();
    const job = await p.drop("Vase,Photos\nTall,front.jpg\n");
    const put = async (zip: Uint8Array) => {
      const done = await beside(p, job, zip);
      return done.ok ? "taken" : "message" in done.error ? done.error.message : done.error.code;
    };
    expect(await put(zipSync({ "../../front.jpg": PDF }))).toMatch(/leads out of it/);
    expect(await put(zipSync({ "/etc/front.jpg": PDF }))).toMatch(/leads out of it/);
    expect(await put(strToU8("Vase,Photos\n"))).toMatch(/damaged, or no ZIP archive/);
    expect(await put(zipSync({ "front.jpg": PDF }).slice(0, 60))).toMatch(/damaged/);
    expect(await put(zipSync({}))).toBe("There are no files in this ZIP archive.");
    const locked = zipSync({ "front.jpg": PDF });
    // Bit 0 of the general purpose flags, in the entry's head and in the list (APPNOTE.TXT 4.4.4).
    const list = Buffer.from(locked).indexOf(Buffer.from("PK\u0001\u0002"));
    locked[6]! |= 1;
    locked[list + 8]! |= 1;
    expect(await put(locked)).toMatch(/locked by a password/);
    expect(importJob(p.file, owner, job.id)).toMatchObject({ state: "received", archive: null });
    expect(readdirSync(join(process.env.ELKHORN_DATA!, "imports")).filter((f) => /zip/.test(f) && f.startsWith(job.id))).toEqual([]);
    expect(beginFiles(p.file, owner, job.id, { name: "x", bytes: 2 ** 31 })).toMatchObject({ ok: false, error: { code: "refused" } });
    expect(beginFiles(p.file, owner, "00000000-0000-4000-8000-000000000000", { name: "x", bytes: 1 })).toMatchObject({
      error: { code: "not-found" },
    });
  });

  it("a piece that does not begin where the last one ended is told; taken away, nothing of it is left", async () => {
    const { p } = await shelf();
    const job = await p.drop("Vase,Photos\nTall,front.jpg\n");
    const zip = zipSync({ "front.jpg": await picture(9) });
    beginFiles(p.file, owner, job.id, { name: "files.zip", bytes: zip.length });
    const piece = (at: number, bytes: Uint8Array) => appendFiles(p.file, owner, job.id, at, new Blob([bytes as never]).stream());
    expect(await piece(5, zip)).toMatchObject({ error: { code: "offset" } });
    expect(await piece(0, zip.slice(0, 100))).toMatchObject({ value: { offset: 100 } });
    expect(comingFiles(p.file, owner, job.id)).toEqual({ bytes: zip.length, offset: 100 });
    expect(await piece(100, new Uint8Array(zip.length))).toMatchObject({ error: { code: "refused" } });
    expect(await beside(p, job, zip, 3)).toMatchObject({ ok: true });
    takeFilesAway(p.file, owner, job.id);
    expect(comingFiles(p.file, owner, job.id)).toBeUndefined();
  });

  it("what was kept for a check and swept since is asked for again", async () => {
    const { p, check } = await shelf();
    const job = await check(TABLE, await parts());
    await sweepFiles(p.file, "2999-01-01");
    expect(await bringInImport(p.file, owner, job.id)).toMatchObject({ ok: false, error: expect.stringMatching(/Check all rows again/) });
    expect((await p.check(importJob(p.file, owner, job.id)!, job.plan!)).result).toMatchObject({ changed: 3, bad: 0 });
    expect((await bringInImport(p.file, owner, job.id)).ok).toBe(true);
  });
});

it.each([
  ["a.pdf", ["a.pdf"]],
  ["a.pdf; b.pdf", ["a.pdf", "b.pdf"]],
  ["a, then b; c.pdf", ["a, then b; c.pdf"]],
  ["a.pdf; a, then b; c.pdf", ["a.pdf", "a, then b; c.pdf"]],
  ["a.pdf, b.pdf", ["a.pdf", "b.pdf"]],
  ["  ", []],
])("%j names %j", (cell, names) => {
  const known = ["a.pdf", "b.pdf", "a, then b; c.pdf"];
  expect(filesNamed(cell, (n) => known.includes(n.trim()))).toEqual(names);
});
