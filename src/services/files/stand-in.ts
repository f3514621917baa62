/** Files in memory, for tests of whatever keeps them. */
import { createHash } from "node:crypto";
import { Readable } from "node:stream";
import { type FileStore, isHash, TooLarge } from "./contract";

export function memoryFiles(): FileStore {
  const held = new Map<string, Buffer>();
  const known = (hash: string): Buffer | undefined => {
    if (!isHash(hash)) throw new Error(`${JSON.stringify(hash.slice(0, 80))} is not the hash of a file.`);
    return held.get(hash);
  };
  return {
    id: "memory",
    async put(content, most) {
      const chunks: Uint8Array[] = [];
      let bytes = 0;
      for await (const chunk of content) {
        bytes += chunk.length;
        if (bytes > most) throw new TooLarge(`More than ${most} bytes.`);
        chunks.push(chunk);
      }
      const whole = Buffer.concat(chunks);
      const hash = createHash("sha256").update(whole).digest("hex");
      held.set(hash, whole);
      return { hash, bytes };
    },
    open: async (hash, range) => {
      const found = known(hash);
      return found && Readable.from([range ? found.subarray(range.from, range.to + 1) : found]);
    },
    size: async (hash) => known(hash)?.length,
    remove: async (hash) => void (known(hash) && held.delete(hash)),
  };
}
