import { mkdtempSync, readdirSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Readable } from "node:stream";
import { afterAll, describe, expect, it } from "vitest";
import { bucketAt } from "./bucket";
import { bucketStandIn } from "./bucket-stand-in";
import { type FileStore, TooLarge } from "./contract";
import { folderFiles } from "./folder";
import { memoryFiles } from "./stand-in";

const folder = mkdtempSync(join(tmpdir(), "elkhorn-files-"));
afterAll(() => rmSync(folder, { recursive: true }));
const text = async (r: Readable | undefined): Promise<string | undefined> =>
  r && Buffer.concat((await r.toArray()).map((c) => Buffer.from(c as Uint8Array))).toString();
const from = (...parts: string[]) => Readable.from(parts.map((p) => Buffer.from(p)));

const bucket = await bucketStandIn();
afterAll(() => void bucket.server.close());
const inBucket = (): FileStore => bucketAt(bucket.address)(join(folder, "portal"));

describe.each([
  ["a folder", () => folderFiles(folder)],
  ["object storage", inBucket],
  ["the stand-in", memoryFiles],
])("%s", (_, make) => {
  const files = make();
  it("keeps a file by its content, whole or in part", async () => {
    const stored = await files.put(from("ab", "c"), 10);
    // SHA-256 of "abc": FIPS 180-4, the example of one block (NIST, "SHA256.pdf").
    expect(stored).toEqual({ hash: "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad", bytes: 3 });
    expect(await text(await files.open(stored.hash))).toBe("abc");
    expect(await text(await files.open(stored.hash, { from: 1, to: 1 }))).toBe("b");
    expect(await files.size(stored.hash)).toBe(3);
    expect((await files.put(from("abc"), 10)).hash).toBe(stored.hash);
  });
  it("holds nothing of one that is too long", async () => {
    await expect(files.put(from("12345", "6"), 5)).rejects.toThrow(TooLarge);
    expect(readdirSync(folder).filter((f) => f.endsWith(".part"))).toEqual([]);
  });
  it("has nothing after it is removed, and nothing at what is no hash", async () => {
    const { hash } = await files.put(from("gone"), 10);
    await files.remove(hash);
    expect([await files.open(hash), await files.size(hash)]).toEqual([undefined, undefined]);
    await expect((async () => files.open("../../etc/passwd"))()).rejects.toThrow("not the hash of a file");
  });
});

it("object storage keeps each portal's files under its own name, says what it was refused, and leaves nothing beside", async () => {
  const { hash } = await inBucket().put(from("of one portal"), 100);
  const other = bucketAt(bucket.address)(join(folder, "another"));
  expect([...bucket.held.keys()].at(-1)).toBe(`/bucket/portal/${hash}`);
  expect(await other.open(hash)).toBeUndefined();
  const stranger = bucketAt(bucket.address.replace("elkhorn:", "stranger:"))(join(folder, "portal"));
  await expect(stranger.put(from("x"), 10)).rejects.toThrow();
  await expect(stranger.open(hash)).rejects.toThrow("AccessDenied");
  expect(readdirSync(join(folder, "portal"))).toEqual([]);
});
