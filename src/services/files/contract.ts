/** Keeping files by their content. What a file belongs to, and who may have it, its keeper does not know. */
import type { Readable } from "node:stream";

export interface StoredFile {
  /** SHA-256 of the content, in hexadecimal: the file's name. */
  readonly hash: string;
  readonly bytes: number;
}

export interface FileStore {
  readonly id: string;
  /** Streams in; the same content is held once. Throws `TooLarge` where it is longer than `most` bytes, and holds nothing of it. */
  put(content: AsyncIterable<Uint8Array>, most: number): Promise<StoredFile>;
  /** Undefined where there is none. `range` is bytes from and to, both inclusive (RFC 9110 section 14.1.2). */
  open(hash: string, range?: { from: number; to: number }): Promise<Readable | undefined>;
  size(hash: string): Promise<number | undefined>;
  remove(hash: string): Promise<void>;
}

export class TooLarge extends Error {}

export const isHash = (s: string): boolean => /^[0-9a-f]{64}$/.test(s);
