import { expect, it } from "vitest";
import { broughtWords, leftOutWords } from "./came-in";

const n = (x: number): string => x.toLocaleString("en-GB");
const words = (fresh: number, changed: number, bad: number) => {
  const counts = { fresh, changed, bad };
  return [broughtWords(counts, n), leftOutWords(counts, n)];
};

it("says what came in and what stayed out, and nothing of what there is none of", () => {
  expect(words(1_200, 2, 1)).toEqual(["1,200 new, 2 changed", "One row stayed out."]);
  expect(words(0, 3, 0)).toEqual(["3 changed", ""]);
  expect(words(0, 0, 4_000)).toEqual(["nothing was changed", "4,000 rows stayed out."]);
});
