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
    ["ones alone, as of a version", ["1", "1", "1"], "number"],
    ["noughts alone", ["0", "0"], "number"],
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

describe("figures are what they say, or no figures", () => {
  it("whole numbers beyond 2^53 stay text: as numbers they would change (IEEE 754 double)", () => {
    expect(guess(["12345678901234567891", "1"]).type).toBe("text");
    expect(guess(["9007199254740991", "1"]).type).toBe("number"); // 2^53 - 1
    expect(guess(["9007199254740993", "1"]).type).toBe("text");
  });
  it("four digits throughout are years and codes, shown without grouping", () => {
    expect(guess(["1914", "2026"])).toMatchObject({ type: "number", plain: true, decimals: 0 });
    expect(guess(["1914", "3000"]).plain).toBe(false);
    expect(guess(["1914", "12"]).plain).toBe(false);
  });
  it("money says in which currency; two in one column are no money", () => {
    expect(guess(["$1.25", "2"])).toMatchObject({ type: "money", currency: "$" });
    expect(guess(["1.201,51 €", "3,10 €"])).toMatchObject({ type: "money", currency: "€", mark: "," });
    expect(guess(["CHF 12", "CHF 1'200.50"])).toMatchObject({ type: "money", currency: "CHF" });
    expect(guess(["£5", "5 €"]).type).toBe("text");
    expect(guess(["12 mm", "5 mm"]).type).toBe("text");
    expect([guess(["R-101", "R-102"]).type, guess(["K12", "K13"]).type, guess(["kr 5", "kr 7"]).type]).toEqual(["text", "text", "money"]);
  });
  it("one sign before the decimals for a whole column", () => {
    expect(guess(["1.234", "2,5"])).toMatchObject({ type: "number", mark: ",", decimals: 1 });
    expect(guess(["1,234", "2.5"])).toMatchObject({ type: "number", mark: ".", decimals: 1 });
    expect(guess(["1,5", "2.5"]).type).toBe("text");
  });
  it.each([
    ["e-mail addresses", ["ada@x.example", "bo@y.example"], "email"],
    ["web addresses", ["https://x.example/a", "http://y.example"], "web-address"],
    ["telephone numbers with their zeros", ["020 7946 0000", "+44 20 7946 0001"], "telephone"],
    ["shares", ["12.5%", "3 %"], "percent"],
    ["moments", ["2026-06-15 12:30", "2026-06-15T08:00:00Z"], "date-time"],
    ["dates with some times", ["15/06/2026", "15/06/2026 08:00"], "date-time"],
  ] as const)("%s", (_, cells, type) => expect(guess(cells).type).toBe(type));
});
