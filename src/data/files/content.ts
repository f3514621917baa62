/** Checks an upload before it is kept: the content says what it is, not the name. Pictures are turned upright and made in three sizes. */

import { createHash } from "node:crypto";
import { createReadStream } from "node:fs";
import { open } from "node:fs/promises";
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { fileTypeFromBuffer } from "file-type";
import { ok, type Result } from "@/core/result";
import { holdsPictures } from "@/core/schema/fields/natures";
import type { PortalFile } from "../file/open";
import type { files } from "../file/portal-tables";
import { PICTURE_TYPES, preparePicture } from "./pictures";
import { MOST_FILE, storeOf } from "./store";

/** What a row of `sys_files` says of its content. */
export type Content = Pick<typeof files.$inferInsert, "hash" | "source" | "type" | "width" | "height" | "sizes"> & {
  readonly bytes: number;
};

async function beginningOf(path: string): Promise<Buffer> {
  const f = await open(path);
  try {
    const { buffer, bytesRead } = await f.read(Buffer.alloc(4100), 0, 4100, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await f.close();
  }
}

/** By its content, whatever its name says. Text that a browser would run is plain text here. */
async function typeOf(path: string): Promise<string> {
  const head = await beginningOf(path);
  const text = head.toString("utf8");
  if (/^\ufeff?\s*(?:<\?xml[^>]*>\s*)?(?:<!--[\s\S]*?-->\s*)*(?:<!doctype svg[^>]*>\s*)?<svg[\s>]/i.test(text)) return "image/svg+xml";
  const known = await fileTypeFromBuffer(head);
  if (known) return known.mime;
  return head.includes(0) ? "application/octet-stream" : "text/plain";
}

async function hashOf(path: string): Promise<string> {
  const hash = createHash("sha256");
  await pipeline(createReadStream(path), hash);
  return hash.digest("hex");
}

/** Keeps the content of the file at `path`, which is `bytes` long; or says what is wrong with it. */
export async function keepContent(file: PortalFile, path: string, bytes: number): Promise<Result<Content, string>> {
  const type = await typeOf(path);
  const store = storeOf(file);
  if (!PICTURE_TYPES.includes(type)) {
    const { hash } = await store.put(createReadStream(path), MOST_FILE);
    return ok({ hash, source: hash, type, bytes });
  }
  const prepared = await preparePicture(path, type);
  if (!prepared.ok) return prepared;
  const keep = async (b: Buffer): Promise<string> => (await store.put(Readable.from([b]), MOST_FILE)).hash;
  const { sizes, original, width, height } = prepared.value;
  const smaller = { small: await keep(sizes.small), middle: await keep(sizes.middle), large: await keep(sizes.large) };
  const hash = await keep(original);
  return ok({ hash, source: await hashOf(path), type, bytes: original.length, width, height, sizes: JSON.stringify(smaller) });
}

/** Why a field cannot hold what is of that type, if so. */
export const unfitFor = (field: { readonly type: string }, type: string): string | null =>
  holdsPictures(field) && !PICTURE_TYPES.includes(type)
    ? `This is no picture that can be shown (it is ${type}). Choose a JPEG, PNG, WebP or GIF.`
    : null;
