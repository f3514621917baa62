/** Amounts are whole minor units (ISO 4217 says how many make one of the currency): nothing here is ever a float. */

/** n/d to a whole number, half away from zero: what is taken back is what was charged, to the penny. */
export function rounded(n: bigint, d: bigint): number {
  const negative = n < 0n !== d < 0n;
  const [a, b] = [n < 0n ? -n : n, d < 0n ? -d : d];
  const q = (2n * a + b) / (2n * b);
  return Number(negative ? -q : q);
}

/** The part of an amount that falls to `part` of `whole` days, pieces or what else. */
export const shareOf = (amount: number, part: number, whole: number): number => rounded(BigInt(amount) * BigInt(part), BigInt(whole));

/**
 * An amount split by weights, so that the parts sum exactly to the whole (largest remainder; of equal remainders the first gets it).
 * Weights are whole numbers from 0; of nothing but zeros the first part is all.
 */
export function split(amount: number, weights: readonly number[]): number[] {
  if (weights.length === 0) return [];
  const total = weights.reduce((a, b) => a + BigInt(b), 0n);
  if (total === 0n) return weights.map((_, i) => (i === 0 ? amount : 0));
  const sign = amount < 0 ? -1 : 1;
  const whole = BigInt(Math.abs(amount));
  const exact = weights.map((w) => whole * BigInt(w));
  const parts = exact.map((x) => x / total);
  let left = Number(whole - parts.reduce((a, b) => a + b, 0n));
  const order = exact.map((x, i) => ({ i, rest: x % total })).sort((a, b) => (a.rest === b.rest ? a.i - b.i : a.rest < b.rest ? 1 : -1));
  for (const { i } of order) {
    if (left === 0) break;
    parts[i]! += 1n;
    left--;
  }
  return parts.map((p) => sign * Number(p) || 0);
}
