/** Files in a folder, two levels deep by the beginning of their hash. */
import { createHash, randomUUID } from "node:crypto";
import { createReadStream } from "node:fs";
import { mkdir, open, rename, rm, stat } from "node:fs/promises";
import { dirname, join } from "node:path";
import { type FileStore, isHash, TooLarge } from "./contract";

export function folderFiles(folder: string): FileStore {
  const pathOf = (hash: string): string => {
    if (!isHash(hash)) throw new Error(`${JSON.stringify(hash.slice(0, 80))} is not the hash of a file.`);
    return join(folder, hash.slice(0, 2), hash.slice(2, 4), hash);
  };
  const size = (hash: string): Promise<number | undefined> =>
    stat(pathOf(hash)).then(
      (s) => s.size,
      () => undefined,
    );
  return {
    id: "folder",
    async put(content, most) {
      await mkdir(folder, { recursive: true, mode: 0o700 });
      const part = join(folder, `${randomUUID()}.part`);
      const file = await open(part, "wx", 0o600);
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
        await rm(part, { force: true });
        throw e;
      }
      await file.close();
      const name = hash.digest("hex");
      await mkdir(dirname(pathOf(name)), { recursive: true, mode: 0o700 });
      await rename(part, pathOf(name));
      return { hash: name, bytes };
    },
    async open(hash, range) {
      if ((await size(hash)) === undefined) return undefined;
      return createReadStream(pathOf(hash), range ? { start: range.from, end: range.to } : {});
    },
    size,
    remove: (hash) => rm(pathOf(hash), { force: true }),
  };
}
