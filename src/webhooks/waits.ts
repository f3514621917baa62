/** When a telling that was not taken is tried again: with growing waits, for three days (Standard Webhooks, "Retry schedule"; the waits are our own). */
const SECOND = 1_000;
const MINUTE = 60 * SECOND;
const HOUR = 60 * MINUTE;

export const TOLD_FOR = 72 * HOUR;
const WAITS = [5 * SECOND, 30 * SECOND, 2 * MINUTE, 10 * MINUTE, 30 * MINUTE, HOUR, 2 * HOUR, 4 * HOUR, 8 * HOUR, 12 * HOUR];

/**
 * The moment of the next try, or null where three days from `madeAt` are over. `tries` counts those made; `asked` is how long the receiver asks
 * to be left alone (Retry-After, RFC 9110 section 10.2.3), in milliseconds. The last try is made on the last moment, so that a receiver that is
 * back on the third day is still told.
 */
export function nextTry(madeAt: number, tries: number, now: number, asked = 0): number | null {
  const end = madeAt + TOLD_FOR;
  if (now >= end) return null;
  const wait = Math.max(WAITS[Math.min(tries, WAITS.length) - 1] ?? WAITS[0]!, asked);
  return Math.min(now + wait, end);
}
