/**
 * How often a key may ask: so many requests in each minute, counted in this process from the key's first request on. RateLimit header fields
 * as draft-ietf-httpapi-ratelimit-headers-10 has them (from memory).
 */
import { once } from "@/data/file/per-process";

const MINUTE = 60_000;
const MOST = 10_000;

interface Window {
  from: number;
  n: number;
}
const windows = once("requests of keys", () => new Map<string, Window>());

export interface Rate {
  readonly over: boolean;
  readonly perMinute: number;
  /** Seconds until it begins anew. */
  readonly seconds: number;
  readonly headers: Readonly<Record<string, string>>;
}

/** Counts a request; `now` in milliseconds. */
export function countRequest(key: string, perMinute: number, now: number): Rate {
  const before = windows.get(key);
  const w = before && now - before.from < MINUTE && now >= before.from ? before : { from: now, n: 0 };
  w.n += 1;
  if (!before && windows.size >= MOST) for (const [k, x] of windows) if (now - x.from >= MINUTE) windows.delete(k);
  windows.set(key, w);
  const seconds = Math.ceil((w.from + MINUTE - now) / 1_000);
  const over = w.n > perMinute;
  return {
    over,
    perMinute,
    seconds,
    headers: {
      "ratelimit-policy": `"key";q=${perMinute};w=60`,
      ratelimit: `"key";r=${Math.max(0, perMinute - w.n)};t=${seconds}`,
      ...(over ? { "retry-after": String(seconds) } : {}),
    },
  };
}
