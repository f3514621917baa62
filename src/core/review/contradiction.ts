/** Filters that no record can ever satisfy, told from the filter alone. Finds the plain cases; silence proves nothing. */

import type { Condition, Operand, Test } from "../schema/condition";
import { fold } from "../text/fold";

/** Two tests of one "all of" that exclude each other, or null. A filter that is one test excludes nothing. */
export function contradiction(c: Condition): readonly [Test, Test] | null {
  switch (c.kind) {
    case "test":
    case "not":
      return null;
    case "any": {
      const found = c.of.map(contradiction);
      return found.length > 0 && found.every((x) => x !== null) ? found[0]! : null;
    }
    case "all": {
      for (const inner of c.of) {
        const found = contradiction(inner);
        if (found) return found;
      }
      const tests = c.of.filter((x): x is Test => x.kind === "test");
      for (const [i, a] of tests.entries())
        for (const b of tests.slice(i + 1)) if (a.path.join() === b.path.join() && exclude(a, b)) return [a, b];
      return null;
    }
  }
}

/** What a single value must be among for the test to hold; null where that is open. To-many paths are another matter. */
function onlyAmong(t: Test): readonly string[] | null {
  const [o] = t.operands;
  if (o?.kind !== "literal" || (t.operator !== "is" && t.operator !== "any-of")) return null;
  return (Array.isArray(o.value) ? o.value : [o.value]).map((v) => fold(String(v)));
}

const edge = (o: Operand | undefined): string | number | null =>
  o?.kind === "literal" && (typeof o.value === "number" || typeof o.value === "string") ? o.value : null;

/** Lowest and highest value that the test lets through, both included or both open: enough to see that two do not meet. */
function range(t: Test): { from: string | number | null; to: string | number | null; open: boolean } | null {
  const v = edge(t.operands[0]);
  switch (t.operator) {
    case "less-than":
      return v === null ? null : { from: null, to: v, open: true };
    case "at-most":
      return v === null ? null : { from: null, to: v, open: false };
    case "more-than":
      return v === null ? null : { from: v, to: null, open: true };
    case "at-least":
      return v === null ? null : { from: v, to: null, open: false };
    case "between":
      return { from: v, to: edge(t.operands[1]), open: false };
    default:
      return null;
  }
}

function exclude(a: Test, b: Test): boolean {
  if (a.path.length > 1) return false; // one record each way to many may satisfy each
  const empty = [a, b].find((t) => t.operator === "is-empty");
  if (empty) {
    const other = empty === a ? b : a;
    return other.operator === "is-not-empty" || onlyAmong(other) !== null || range(other) !== null;
  }
  const [among, alsoAmong] = [onlyAmong(a), onlyAmong(b)];
  if (among && alsoAmong) return !among.some((v) => alsoAmong.includes(v));
  const [r, s] = [range(a), range(b)];
  return Boolean(r && s && (apart(r, s) || apart(s, r)));
}

function apart(low: NonNullable<ReturnType<typeof range>>, high: NonNullable<ReturnType<typeof range>>): boolean {
  if (low.to === null || high.from === null || typeof low.to !== typeof high.from) return false;
  return low.to < high.from || (low.to === high.from && (low.open || high.open));
}
