/** Files from the first byte to whoever may have them: pieces, content over names, pictures upright and bare, claims, and the sweep. */

import { readdirSync } from "node:fs";
import { join } from "node:path";
import sharp, { type Sharp } from "sharp";
import { beforeAll, describe, expect, it } from "vitest";
import { type FileRef, isFiles } from "@/core/schema/seen";
import { published, storePublished } from "@/data/definition/published";
import { earlierFiles } from "@/data/files/earlier";
import { preparePicture } from "@/data/files/pictures";
import { keepContentsIn } from "@/data/files/store";
import { appendPiece, beginUpload, cleanName, sweepFiles, uploadOf } from "@/data/files/uploads";
import type { Desk } from "@/data/records/desk";
import { indexWords } from "@/data/records/query/search-index";
import { restoreRecord } from "@/data/records/write/bin";
import { addField } from "@/data/tables/change";
import { schemaOf } from "@/data/tables/read";
import { folderFiles } from "@/services/files/folder";
import { ownFolder } from "@/testing/folder";
import { type TestPortal, testPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import { serve } from "./outgoing";

const folder = ownFolder();
beforeAll(() => {
  keepContentsIn(folderFiles);
});

const PDF = Buffer.from("%PDF-1.7\n1 0 obj\n<<>>\nendobj\ntrailer\n<<>>\n%%EOF\n");

/** Signs with photographs and papers; leads see all of their company's, onlookers the papers' names alone. */
function filed(): { p: TestPortal; photos: string; papers: string } {
  const p = testPortal({ grants: [] });
  const signs = p.table("signs").id;
  const photos = addField(p.file, signs, { slug: "photos", name: "Photos", type: "pictures" });
  const papers = addField(p.file, signs, { slug: "papers", name: "Papers", type: "files" });
  const d = structuredClone(published(p.file).definition);
  const code = p.field("signs", "code");
  const project = p.field("signs", "project");
  const grant = (id: string, role: string, more: object) => ({
    id,
    roles: [role],
    table: signs,
    actions: ["see"],
    filter: null,
    fields: [],
    changes: [],
    ...more,
  });
  d.roles.push(...["writer", "onlooker"].map((id) => ({ id, name: id, side: "client" as const, includes: [] })));
  d.grants.push(
    grant("g1", "writer", {
      actions: ["see", "add", "change"],
      fields: [code, project, photos, papers],
      changes: [code, project, photos, papers],
    }) as never,
    grant("g2", "onlooker", { fields: [code, papers], namesOnly: [papers] }) as never,
    { ...grant("g3", "writer", {}), table: p.table("projects").id, fields: [p.field("projects", "title")] } as never,
  );
  storePublished(p.file, d, PUBLISHER);
  return { p, photos, papers };
}
const stream = (b: Uint8Array) => new Blob([new Uint8Array(b)]).stream();

async function up(d: Desk, field: string, name: string, content: Buffer, cut = content.length): Promise<string> {
  const f = schemaOf(d.file).field(field);
  const begun = beginUpload(d.file, d.viewer, f, { name, bytes: content.length });
  if (!begun.ok) throw new Error(JSON.stringify(begun.error));
  for (let at = 0; at < content.length; at += cut) {
    const done = await appendPiece(d.file, d.viewer, () => f, begun.value.id, at, stream(content.subarray(at, at + cut)));
    if (!done.ok) throw new Error("message" in done.error ? done.error.message : done.error.code);
  }
  return begun.value.id;
}
const table = (d: Desk) => d.schema.tableBySlug("signs")!;
const png = (width: number, height: number) =>
  sharp({ create: { width, height, channels: 3, background: "#2f5d50" } })
    .png()
    .toBuffer();
async function get(d: Desk, at: string, headers: Record<string, string> = {}, method = "GET") {
  const [path, query] = at.split("?");
  const r = await serve(
    d,
    new Request(`http://x.example${at}`, { headers, method }),
    path!.replace("/-/files/", "").split("/").map(decodeURIComponent),
  );
  return { status: r.status, body: Buffer.from(await r.arrayBuffer()), headers: r.headers, query };
}

describe("coming in", () => {
  it("in pieces, each where the last ended; what is told to have come is what is written down", async () => {
    const { p, papers } = filed();
    const dana = p.person("Dana", "One", "writer");
    const f = schemaOf(p.file).field(papers);
    const content = Buffer.alloc(100_000, "a paper ");
    const begun = beginUpload(p.file, dana.viewer, f, { name: "../../etc/pass\u202ewd.txt", bytes: content.length });
    if (!begun.ok) throw new Error("refused");
    const { id } = begun.value;
    const piece = (at: number, to: number, who = dana) =>
      appendPiece(p.file, who.viewer, () => f, id, at, stream(content.subarray(at, to)));
    expect(await piece(0, 60_000)).toMatchObject({ ok: true, value: { offset: 60_000, whole: false } });
    expect(await piece(50_000, 60_000)).toEqual({ ok: false, error: { code: "offset" } });
    const eve = p.person("Eve", "Two", "writer");
    expect([uploadOf(p.file, eve.viewer, id), (await piece(60_000, 100_000, eve)).ok]).toEqual([undefined, false]);
    expect(await piece(60_000, 100_000)).toMatchObject({ ok: true, value: { whole: true } });
    expect(p.file.db.prepare("SELECT name, type FROM sys_files WHERE id = ?").raw().get(id)).toEqual(["passwd.txt", "text/plain"]);
    const more = beginUpload(p.file, dana.viewer, f, { name: "x", bytes: 10 });
    if (!more.ok) throw new Error("refused");
    expect(await appendPiece(p.file, dana.viewer, () => f, more.value.id, 0, stream(Buffer.alloc(11)))).toEqual({
      ok: false,
      error: { code: "too-much" },
    });
    expect(uploadOf(p.file, dana.viewer, more.value.id)).toBeUndefined();
  });

  it("what is too large, empty, or for no field of files is refused before it comes", () => {
    const { p, papers } = filed();
    const { viewer } = p.person("Dana", "One", "writer");
    const f = schemaOf(p.file).field(papers);
    const words = (bytes: number) => beginUpload(p.file, viewer, f, { name: "x", bytes });
    expect(words(2 * 1024 ** 3)).toMatchObject({ error: { message: "This file is larger than 250 MB." } });
    expect(words(0)).toMatchObject({ error: { message: "This file is empty." } });
    expect(words(Number.NaN).ok).toBe(false);
    expect(beginUpload(p.file, viewer, schemaOf(p.file).field(p.field("signs", "code")), { name: "x", bytes: 1 })).toEqual({
      ok: false,
      error: { code: "not-found" },
    });
  });

  it.each([
    ["a PDF that is called a picture", "photo.png", PDF, "This is no picture that can be shown (it is application/pdf)."],
    [
      "a drawing that can run",
      "logo.svg",
      Buffer.from('<?xml version="1.0"?><!-- x --><svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>'),
      "it is image/svg+xml",
    ],
    ["a picture cut short", "p.png", null, "This picture is damaged"],
  ])("%s is no picture", async (_, name, content, words) => {
    const { p, photos } = filed();
    const cut = content ?? (await png(400, 400)).subarray(0, 300);
    await expect(up(p.person("Dana", "One", "writer"), photos, name, cut)).rejects.toThrow(words);
    expect(p.file.db.prepare("SELECT count(*) FROM sys_files").pluck().get()).toBe(0);
  });

  it("a small file of very many points does not unpack", async () => {
    const { p, photos } = filed();
    // 9,000 x 9,000 points of one colour compress to almost nothing (PNG, section 10).
    const bomb = await sharp({ create: { width: 9_000, height: 9_000, channels: 3, background: "black" }, limitInputPixels: false })
      .png({ compressionLevel: 9, palette: true, colours: 2 })
      .toBuffer();
    expect(bomb.length).toBeLessThan(3_000_000);
    await expect(up(p.person("Dana", "One", "writer"), photos, "b.png", bomb)).rejects.toThrow("more than 60 million points");
  }, 60_000);
});

it.each([1, 2, 3, 4, 5, 6, 7, 8])(
  "a photograph of EXIF orientation %i stands upright, and keeps nothing of where it was taken",
  async (orientation) => {
    // CIPA DC-008 (Exif 2.32) section 4.6.4: which row and column the first point is. The upper left quarter is red when it stands upright.
    const upright = await sharp({ create: { width: 80, height: 40, channels: 3, background: "blue" } })
      .composite([{ input: { create: { width: 40, height: 20, channels: 3, background: "red" } }, left: 0, top: 0 }])
      .png()
      .toBuffer();
    const undo: Record<number, (s: Sharp) => Sharp> = {
      1: (s) => s,
      2: (s) => s.flop(),
      3: (s) => s.rotate(180),
      4: (s) => s.flip(),
      5: (s) => s.rotate(270).flop(),
      6: (s) => s.rotate(270),
      7: (s) => s.rotate(90).flop(),
      8: (s) => s.rotate(90),
    };
    const turned = await undo[orientation]!(sharp(upright)).png().toBuffer();
    const path = join(folder, `o${orientation}.jpg`);
    await sharp(turned)
      .jpeg({ quality: 100 })
      .withExif({ IFD0: { Make: "Secret camera" }, IFD3: { GPSLatitudeRef: "N" } })
      .withMetadata({ orientation })
      .toFile(path);
    const prepared = await preparePicture(path, "image/jpeg");
    if (!prepared.ok) throw new Error(prepared.error);
    expect([prepared.value.width, prepared.value.height]).toEqual([80, 40]);
    const meta = await sharp(prepared.value.original).metadata();
    expect([meta.exif, meta.orientation]).toEqual([undefined, undefined]);
    const { data } = await sharp(prepared.value.original).raw().toBuffer({ resolveWithObject: true });
    const at = (x: number, y: number) => [...data.subarray((y * 80 + x) * 3, (y * 80 + x) * 3 + 3)].map((v) => Math.round(v / 255));
    expect([at(10, 8), at(60, 8), at(10, 32)]).toEqual([
      [1, 0, 0],
      [0, 0, 1],
      [0, 0, 1],
    ]);
  },
);

describe("a record's files", () => {
  it("are seen exactly by who sees the field: another company, a lesser role and nobody get the same nothing", async () => {
    const { p, photos, papers } = filed();
    const dana = p.person("Dana", "One", "writer");
    const [photo, paper] = [await up(dana, photos, "sign.png", await png(300, 200), 100), await up(dana, papers, "plan.pdf", PDF)];
    const made = dana.add(table(dana), {
      ...p.values("signs", { code: "A", project: p.project("One") }),
      [photos]: [photo],
      [papers]: [paper],
    });
    if (!made.ok) throw new Error(JSON.stringify(made.error));
    const seen = dana.read(table(dana), made.value.id)!;
    const refs = [photos, papers]
      .map((f) => seen.fields[f])
      .filter(isFiles)
      .flat();
    expect(refs.map((r) => [r.name, r.type, r.picture])).toEqual([
      ["sign.png", "image/png", { width: 300, height: 200 }],
      ["plan.pdf", "application/pdf", null],
    ]);
    const [photoAt, paperAt] = refs.map((r) => r.at!);
    expect((await get(dana, paperAt!)).body).toEqual(PDF);
    const small = await get(dana, `${photoAt}?size=small`);
    expect([small.status, small.headers.get("content-type"), (await sharp(small.body).metadata()).width]).toEqual([200, "image/webp", 160]);

    const onlooker = p.person("Olga", "One", "onlooker");
    const asSeen = onlooker.read(table(onlooker), made.value.id)!.fields;
    expect([asSeen[photos], (asSeen[papers] as readonly FileRef[])[0]]).toMatchObject([undefined, { name: "plan.pdf", at: null }]);
    const nothing = await get(onlooker, "/-/files/t_none/x/y/z");
    for (const who of [p.person("Eve", "Two", "writer"), onlooker, p.visitor()])
      for (const at of [photoAt!, paperAt!, `${photoAt}?size=small`])
        expect(await get(who, at)).toMatchObject({ status: 404, body: nothing.body });
    // Another record's or field's address does not lead to it, either.
    for (const at of [paperAt!.replace(papers, photos), paperAt!.replace(made.value.id, "x"), paperAt!.replace(paper, photo)])
      expect((await get(dana, at)).status).toBe(404);
    expect((await get(p.owners, photoAt!)).status).toBe(200);
    for (const size of ["toString", "huge", ""]) expect((await get(dana, `${photoAt}?size=${size}`)).status).toBe(200); // no size: all of it
  });

  it("are taken once, by whoever sent them and for that field; taken away they are nobody's, and come back with the record", async () => {
    const { p, papers, photos } = filed();
    const [dana, eve] = [p.person("Dana", "One", "writer"), p.person("Eve", "Two", "writer")];
    const paper = await up(dana, papers, "plan.pdf", PDF);
    const add = (d: Desk, company: string, more: object) =>
      d.add(table(d), { ...p.values("signs", { code: "A", project: p.project(company) }), ...more });
    const gone = { ok: false, error: { errors: [{ message: "One of these files is not here any more. Choose it again." }] } };
    expect(add(eve, "Two", { [papers]: [paper] })).toMatchObject(gone);
    expect(add(dana, "One", { [photos]: [paper] })).toMatchObject(gone);
    const first = add(dana, "One", { [papers]: [paper] });
    if (!first.ok) throw new Error("not added");
    expect(add(dana, "One", { [papers]: [paper] })).toMatchObject(gone);
    const at = (dana.read(table(dana), first.value.id)!.fields[papers] as readonly FileRef[])[0]!.at!;
    p.owners.remove(table(p.owners), first.value.id);
    expect((await get(dana, at)).status).toBe(404);
    restoreRecord(p.owners, first.value.id);
    expect((await get(dana, at)).status).toBe(200);
    expect(dana.change(table(dana), first.value.id, { [papers]: [] }, null).ok).toBe(true);
    expect((await get(dana, at)).status).toBe(404);
    const back = { [papers]: [paper] };
    expect(dana.change(table(dana), first.value.id, back, null)).toMatchObject(gone);
    const second = add(p.owners, "One", {});
    if (!second.ok) throw new Error("not added");
    expect(p.owners.change(table(dana), second.value.id, back, null)).toMatchObject(gone); // another record's
    expect(p.owners.change(table(dana), first.value.id, back, null).ok).toBe(true); // the owner's undo
    expect((await get(dana, at)).status).toBe(200);
  });

  it("what a field held before stays with the record's history: the owner's alone, to open and to put back", async () => {
    const { p, papers } = filed();
    const dana = p.person("Dana", "One", "writer");
    const [old, newer] = [await up(dana, papers, "plan 1.pdf", PDF), await up(dana, papers, "plan 2.pdf", PDF)];
    const made = dana.add(table(dana), { ...p.values("signs", { code: "A", project: p.project("One") }), [papers]: [old] });
    if (!made.ok) throw new Error("not added");
    const at = (dana.read(table(dana), made.value.id)!.fields[papers] as readonly FileRef[])[0]!.at!;
    expect(dana.change(table(dana), made.value.id, { [papers]: [newer] }, null).ok).toBe(true);
    const field = schemaOf(p.file).field(papers);
    const [was, ...more] = earlierFiles(p.file, p.owner, field, made.value.id, [newer]);
    expect([was, more]).toMatchObject([{ id: old, name: "plan 1.pdf", at, until: new Date(dana.viewer.now).toISOString() }, []]);
    const others = [dana, p.person("Eve", "Two", "writer"), p.person("Olga", "One", "onlooker"), p.visitor()];
    expect(await Promise.all(others.map(async (d) => (await get(d, at)).status))).toEqual([404, 404, 404, 404]);
    expect((await get(p.owners, at)).status).toBe(200);
    // Of another record or field it is not had, either.
    const other = p.owners.add(table(p.owners), p.values("signs", { code: "B", project: p.project("One") }));
    if (!other.ok) throw new Error("not added");
    expect((await get(p.owners, at.replace(made.value.id, other.value.id))).status).toBe(404);
    expect(p.owners.change(table(p.owners), made.value.id, { [papers]: [old, newer] }, null).ok).toBe(true);
    expect(earlierFiles(p.file, p.owner, field, made.value.id, [old, newer])).toEqual([]);
  });

  it("are found by their names, by exactly whoever may know the names", async () => {
    const { p, papers } = filed();
    const dana = p.person("Dana", "One", "writer");
    const paper = await up(dana, papers, "Straßenplan Übersicht.pdf", PDF);
    const made = dana.add(table(dana), { ...p.values("signs", { code: "A", project: p.project("One") }), [papers]: [paper] });
    expect(made.ok).toBe(true);
    const found = (d: Desk, search: string): number => d.list(table(d), { search, limit: 9 }).records.length;
    for (const words of ["STRAßENPLAN", "ÜBERSICHT", ".pdf"]) expect([words, found(dana, words)]).toEqual([words, 1]);
    expect(found(dana, "plan 7")).toBe(0);
    const onlooker = p.person("Olga", "One", "onlooker"); // has the names alone
    expect([found(onlooker, "STRAßENPLAN"), found(p.owners, "STRAßENPLAN")]).toEqual([1, 1]);
    expect([p.person("Eve", "Two", "writer"), p.visitor()].map((d) => found(d, "STRAßENPLAN"))).toEqual([0, 0]);
    // With an index of words, too; and not where searching does not look.
    indexWords(p.file, schemaOf(p.file), table(dana).id);
    expect([found(p.owners, "STRAßENPLAN"), found(p.owners, "plan 7")]).toEqual([1, 0]);
    p.file.db.prepare("UPDATE sys_fields SET options = json_set(options, '$.offSearch', json('true')) WHERE id = ?").run(papers);
    p.file.db.prepare("UPDATE sys_meta SET value = value + 1 WHERE key = 'schema_version'").run();
    p.file.meta.look();
    expect([found(p.desk(dana.viewer), "STRAßENPLAN"), found(p.desk(p.owner), "STRAßENPLAN")]).toEqual([0, 0]);
  });

  it("two pieces at once are not let in by the same room; what is only promised does not use up everybody's", async () => {
    const { p, papers } = filed();
    const [dana, eve] = [p.person("Dana", "One", "writer"), p.person("Eve", "Two", "writer")];
    const f = schemaOf(p.file).field(papers);
    const begin = (d: Desk, bytes: number) => beginUpload(p.file, d.viewer, f, { name: "a.txt", bytes });
    const begun = begin(dana, 8);
    if (!begun.ok) throw new Error("not begun");
    const piece = () => appendPiece(p.file, dana.viewer, () => f, begun.value.id, 0, stream(Buffer.from("12345678")));
    const both = await Promise.all([piece(), piece()]);
    expect(both.map((x) => x.ok)).toEqual([true, false]);
    expect(both[1]).toEqual({ ok: false, error: { code: "offset" } });
    expect(p.file.db.prepare("SELECT bytes FROM sys_files").pluck().all()).toEqual([8]);
    const many = Array.from({ length: 12 }, () => begin(dana, 200 * 1024 * 1024).ok);
    expect(many.filter(Boolean)).toHaveLength(10); // 2 GB
    expect([begin(dana, 200 * 1024 * 1024).ok, begin(eve, 200 * 1024 * 1024).ok]).toEqual([false, true]);
    // What records have taken counts for whoever sent it, and for nobody else.
    p.file.db.exec(
      `UPDATE sys_files SET record_id = 'r', bytes = 600000000 WHERE made_by = (SELECT made_by FROM sys_files WHERE bytes = 8)`,
    );
    expect(begin(dana, 8)).toMatchObject({ error: { message: "You have sent as many files as one person may. Ask the agency." } });
    expect([begin(eve, 8).ok, begin(p.owners, 8).ok]).toEqual([true, true]);
  });

  it("an upload that no record took, and files of records that are gone for good, are swept with their contents", async () => {
    const { p, papers } = filed();
    const dana = p.person("Dana", "One", "writer");
    await up(dana, papers, "forgotten.txt", Buffer.from("nobody's words"));
    const kept = await up(dana, papers, "kept.txt", Buffer.from("somebody's words"));
    const made = dana.add(table(dana), { ...p.values("signs", { code: "A", project: p.project("One") }), [papers]: [kept] });
    expect([await sweepFiles(p.file, "2000-01-01"), await sweepFiles(p.file, "2999-01-01")]).toEqual([0, 1]);
    expect(p.file.db.prepare("SELECT name FROM sys_files").pluck().all()).toEqual(["kept.txt"]);
    if (made.ok) p.owners.remove(table(p.owners), made.value.id);
    await sweepFiles(p.file, "2999-01-01");
    expect(p.file.db.prepare("SELECT count(*) FROM sys_files").pluck().get()).toBe(1); // the bin holds it
    p.file.db.exec("DELETE FROM sys_removed");
    await sweepFiles(p.file, "2999-01-01");
    expect(p.file.db.prepare("SELECT count(*) FROM sys_files").pluck().get()).toBe(0);
    expect(
      readdirSync(join(folder, "files", "test"), { recursive: true }).filter(
        (f) => /[0-9a-f]{64}$/.test(String(f)) && String(f).includes("somebody"),
      ).length,
    ).toBe(0);
  });
});

describe("going out (RFC 9110 section 14)", () => {
  const ten = Buffer.from("0123456789");
  async function ready() {
    const { p, papers } = filed();
    const dana = p.person("Dana", "One", "writer");
    const id = await up(dana, papers, 'te"n é.txt', ten);
    const made = dana.add(table(dana), { ...p.values("signs", { code: "A", project: p.project("One") }), [papers]: [id] });
    if (!made.ok) throw new Error("not added");
    const [{ at }] = dana.read(table(dana), made.value.id)!.fields[papers] as unknown as [{ at: string }];
    return { dana, at };
  }
  it("whole, in part, from the end, beyond the end; ranges that say nothing are passed over", async () => {
    const { dana, at } = await ready();
    const ask = async (range: string) => {
      const r = await get(dana, at, { range });
      return [r.status, r.body.toString(), r.headers.get("content-range")];
    };
    // The forms of section 14.1.2, on ten bytes.
    expect(await ask("bytes=0-4")).toEqual([206, "01234", "bytes 0-4/10"]);
    expect(await ask("bytes=5-9")).toEqual([206, "56789", "bytes 5-9/10"]);
    expect(await ask("bytes=-3")).toEqual([206, "789", "bytes 7-9/10"]);
    expect(await ask("bytes=7-")).toEqual([206, "789", "bytes 7-9/10"]);
    expect(await ask("bytes=8-99")).toEqual([206, "89", "bytes 8-9/10"]);
    expect(await ask("bytes=-99")).toEqual([206, "0123456789", "bytes 0-9/10"]);
    expect(await ask("bytes=10-")).toEqual([416, "", "bytes */10"]);
    expect(await ask("bytes=-0")).toEqual([416, "", "bytes */10"]);
    for (const odd of ["bytes=5-2", "bytes=a-b", "lines=1-2", "bytes=0-1,4-5", "bytes="])
      expect(await ask(odd)).toEqual([200, "0123456789", null]);
    const etag = (await get(dana, at)).headers.get("etag")!;
    expect((await get(dana, at, { "if-none-match": `W/${etag}, "x"` })).status).toBe(304);
    expect((await get(dana, at, { range: "bytes=0-1", "if-range": etag })).status).toBe(206);
    expect((await get(dana, at, { range: "bytes=0-1", "if-range": '"other"' })).status).toBe(200);
    expect((await get(dana, at, {}, "HEAD")).headers.get("content-length")).toBe("10");
  });
  it("never runs: attached unless a picture or a PDF, with no guessing and a sandbox", async () => {
    const { dana, at } = await ready();
    const { headers } = await get(dana, at);
    expect(headers.get("content-disposition")).toBe(`attachment; filename="ten _.txt"; filename*=UTF-8''ten%20%C3%A9.txt`);
    expect([headers.get("x-content-type-options"), headers.get("cache-control")]).toEqual(["nosniff", "private, no-cache"]);
    expect(headers.get("content-security-policy")).toMatch(/^default-src 'none'.*; sandbox$/);
  });
});

it.each([
  ["../../x.txt", "x.txt"],
  ["C:\\temp\\x.txt", "x.txt"],
  ["..hidden", "hidden"],
  ["a\u0000b\nc", "abc"],
  ["gpj.\u202etxt", "gpj.txt"],
  ["", "file"],
  ["日本語 🎉.pdf", "日本語 🎉.pdf"],
])("%j is called %j", (given, name) => expect(cleanName(given)).toBe(name));
