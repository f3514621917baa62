/** Ids are UUIDv7 (RFC 9562 section 5.7): unguessable in practice, and in the order of their making. */
import { randomFillSync } from "node:crypto";
import { v7 as uuid } from "uuid";

// Random bytes are drawn by the page: asking the system for sixteen at a time is a good part of the cost of an import.
const pool = new Uint8Array(4096);
let used = pool.length;

/** A UUID of version 7 (RFC 9562): later ones sort behind earlier ones. */
export function newId(): string {
  if (used + 16 > pool.length) {
    randomFillSync(pool);
    used = 0;
  }
  const random = pool.slice(used, used + 16);
  used += 16;
  return uuid({ random });
}
