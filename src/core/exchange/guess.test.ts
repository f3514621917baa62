import { describe, expect, it } from "vitest";
import { ColumnWatch } from "./guess";

const guess = (cells: readonly string[]) => {
  const watch = new ColumnWatch();
  for (const c of cells) watch.see(c);
  return watch.guess();
};
const many = (n: number, make: (i: number) => string): string[] => Array.from({ length: n }, (_, i) => make(i));

describe("types guessed from all rows", () => {
  it.each([
    ["numbers", ["1", "2.5", "1,000"], "number"],
    ["one word among numbers", [...many(500, String), "n/a"], "text"],
    ["codes with leading zeros are no numbers", ["001", "002", "010"], "text"],
    ["a lone zero is a number", ["0", "0.5"], "number"],
    ["money needs a sign of it somewhere", ["£1", "2", "3.50"], "money"],
    ["ISO dates", ["2026-01-01", "2026-12-31"], "date"],
    ["an impossible date among dates", ["2026-01-01", "2026-02-30"], "text"],
    ["yes and no", ["Yes", "no", "YES"], "yes-no"],
    ["ones and noughts", ["1", "0", "1"], "yes-no"],
    ["few words many times", many(20, (i) => ["Red", "Green", "Blue"][i % 3]!), "choice"],
    ["many words once", many(20, (i) => `Word ${i}`), "text"],
    ["few rows are not enough for a choice", ["Red", "Red", "Blue"], "text"],
    ["long text", ["x".repeat(201), "y"], "long-text"],
    ["nothing at all", ["", " ", ""], "text"],
    ["empty cells do not count", ["", "5", ""], "number"],
  ] as const)("%s", (_, cells, type) => expect(guess(cells).type).toBe(type));

  it("the whole column settles how dates are written", () => {
    expect(guess(["01/02/2026", "03/04/2026"]).dateOrder).toBe("day-first"); // either fits: common practice, no source
    expect(guess(["01/02/2026", "13/04/2026"]).dateOrder).toBe("day-first");
    expect(guess(["01/02/2026", "01/13/2026"]).dateOrder).toBe("month-first");
    expect(guess(["13/01/2026", "01/13/2026"]).type).toBe("text");
  });

  it("keeps the words of a choice, sorted, and the longest cell", () => {
    const g = guess(many(12, (i) => ["b", "a", "cc"][i % 3]!));
    expect([g.choices, g.longest, g.filled]).toEqual([["a", "b", "cc"], 2, 12]);
  });
});
