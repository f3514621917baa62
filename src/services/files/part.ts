/** What comes in stands in a file of its own until its hash is known. */
import { createHash, randomUUID } from "node:crypto";
import { mkdir, open, rm } from "node:fs/promises";
import { join } from "node:path";
import { TooLarge } from "./contract";

export interface Part {
  readonly path: string;
  /** SHA-256, in hexadecimal. */
  readonly hash: string;
  readonly bytes: number;
}

/** Whoever asks moves it away or removes it. @throws TooLarge beyond `most` bytes; nothing is left then. */
export async function toPart(folder: string, content: AsyncIterable<Uint8Array>, most: number): Promise<Part> {
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const path = join(folder, `${randomUUID()}.part`);
  const file = await open(path, "wx", 0o600);
  const hash = createHash("sha256");
  let bytes = 0;
  try {
    for await (const chunk of content) {
      bytes += chunk.length;
      if (bytes > most) throw new TooLarge(`More than ${most} bytes.`);
      hash.update(chunk);
      await file.write(chunk);
    }
    await file.sync();
  } catch (e) {
    await file.close();
    await rm(path, { force: true });
    throw e;
  }
  await file.close();
  return { path, hash: hash.digest("hex"), bytes };
}
