/** Files of records and whoever may have them: claims, what was there before, ranges, and the sweep. */
import { readdirSync } from "node:fs";
import { join } from "node:path";
import sharp from "sharp";
import { beforeAll, describe, expect, it } from "vitest";
import { type FileRef, isFiles } from "@/core/schema/seen";
import { earlierFiles } from "@/data/files/earlier";
import { keepContentsIn } from "@/data/files/store";
import { appendPiece, beginUpload, cleanName, sweepFiles } from "@/data/files/uploads";
import type { Desk } from "@/data/records/desk";
import { indexWords } from "@/data/records/query/search-index";
import { restoreRecord } from "@/data/records/write/bin";
import { schemaOf } from "@/data/tables/read";
import { folderFiles } from "@/services/files/folder";
import { filed, get, PDF, png, stream, table, up } from "@/testing/filed";
import { ownFolder } from "@/testing/folder";

const folder = ownFolder();
beforeAll(() => {
  keepContentsIn(folderFiles);
});

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
