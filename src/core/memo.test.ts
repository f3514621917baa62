import { expect, it } from "vitest";
import { Memo } from "./memo";

it("works out a value once for each object and name, whatever the value is", () => {
  const kept = new Memo<object, string | object, number | boolean>();
  const [a, b] = [{}, {}];
  const made: string[] = [];
  const ask = (owner: object, name: string | object, value: number | boolean): unknown =>
    kept.of(owner, name, () => {
      made.push(String(value));
      return value;
    });
  expect([ask(a, "x", 1), ask(a, "x", 2), ask(a, "y", 3), ask(b, "x", 4), ask(a, b, 5), ask(a, b, 6)]).toEqual([1, 1, 3, 4, 5, 5]);
  for (const nothing of [0, false]) expect([ask(b, `${nothing}`, nothing), ask(b, `${nothing}`, 7)]).toEqual([nothing, nothing]);
  expect(made).toEqual(["1", "3", "4", "5", "0", "false"]);
});

it("keeps nothing when the work fails", () => {
  const kept = new Memo<object, string, number>();
  const a = {};
  expect(() =>
    kept.of(a, "x", () => {
      throw new Error("no");
    }),
  ).toThrow("no");
  expect(kept.of(a, "x", () => 2)).toBe(2);
});
