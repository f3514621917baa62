import { join } from "node:path";
import sharp, { type Sharp } from "sharp";
import { beforeAll, describe, expect, it } from "vitest";
import { preparePicture } from "@/data/files/pictures";
import { keepContentsIn } from "@/data/files/store";
import { appendPiece, beginUpload, uploadOf } from "@/data/files/uploads";
import { schemaOf } from "@/data/tables/read";
import { folderFiles } from "@/services/files/folder";
import { filed, PDF, png, stream, up } from "@/testing/filed";
import { ownFolder } from "@/testing/folder";

const folder = ownFolder();
beforeAll(() => {
  keepContentsIn(folderFiles);
});

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
