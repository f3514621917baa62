import { readdirSync, readFileSync } from "node:fs";
import { join, resolve } from "node:path";
import codes from "currency-codes";
import { expect, it } from "vitest";
import { readMoney } from "../schema/fields/money";
import { minorDigits, plainAmount } from "./format";

/** ISO 4217 as the package currency-codes has it; funds and metals have no minor unit and are no currency of a portal. */
const CURRENCIES = codes.codes().filter((c) => !/^X(?!AF|CD|CG|OF|PF)/.test(c));

it("an amount of every currency, written as somebody would type it, is read back as the same amount", () => {
  expect(CURRENCIES.length).toBeGreaterThan(150);
  for (const currency of CURRENCIES)
    for (const minor of [0, 1, 5, 10, 99, 100, 101, 12_345, 1_000_000, 999_999_999_999, -1, -12_345]) {
      const read = readMoney(plainAmount(minor, currency), currency, undefined, "refuse");
      expect([currency, minor, read]).toEqual([currency, minor, { ok: true, value: minor }]);
    }
});

it("the digits of a currency are those of the standard, for every currency of it", () => {
  const wrong = CURRENCIES.filter((c) => minorDigits(c) !== codes.code(c)!.digits).map((c) => [c, minorDigits(c), codes.code(c)!.digits]);
  expect(wrong).toEqual([]);
});

it("no other place works the digits of a currency out", () => {
  const src = resolve(import.meta.dirname, "../..");
  const files = readdirSync(src, { recursive: true })
    .map(String)
    .filter((f) => /\.tsx?$/.test(f) && !f.endsWith(".test.ts"))
    // The Till is another's program: it knows nothing of Elkhorn.
    .filter((f) => !f.startsWith("till"));
  const elsewhere = files.filter((f) => /resolvedOptions\(\)\.m\w+FractionDigits/.test(readFileSync(join(src, f), "utf8")));
  expect(elsewhere).toEqual([join("core", "text", "format.ts")]);
});
