/** Files in a folder, two levels deep by the beginning of their hash. */
import { createReadStream } from "node:fs";
import { mkdir, rename, rm, stat } from "node:fs/promises";
import { dirname, join } from "node:path";
import { type FileStore, isHash } from "./contract";
import { toPart } from "./part";

/** A store that keeps contents in a folder. */
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
      const { path, hash, bytes } = await toPart(folder, content, most);
      await mkdir(dirname(pathOf(hash)), { recursive: true, mode: 0o700 });
      await rename(path, pathOf(hash));
      return { hash, bytes };
    },
    async open(hash, range) {
      if ((await size(hash)) === undefined) return undefined;
      return createReadStream(pathOf(hash), range ? { start: range.from, end: range.to } : {});
    },
    size,
    remove: (hash) => rm(pathOf(hash), { force: true }),
  };
}
