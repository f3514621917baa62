import { expect, it } from "vitest";
import { percent } from "./percent";

const f = { name: "Margin", options: { decimals: 1 } };
const read = (text: string) => {
  const r = percent.parse([text], f);
  return r.ok ? r.value : r.error;
};

it.each([
  ["12.5 %", 125],
  ["12,5%", 125],
  ["-3", -30],
  ["", null],
  ["150%", 1500],
])("%j is %j tenths of a percent", (text, n) => expect(read(text)).toBe(n));
it("finer ones than the field holds, and what is no number, are refused with a sentence", () => {
  expect(read("12.55 %")).toBe("“12.55” has more than 1 digit after the point.");
  expect(read("half")).toBe("“half” is not a number.");
});
it("reads as people of the locale write it", () => {
  expect(percent.words(125, f, { locale: "en-GB", timeZone: "UTC" })).toBe("12.5%");
  expect(percent.words(125, f, { locale: "de-DE", timeZone: "UTC" })).toBe("12,5\u00a0%");
  expect([percent.toJson(125, f), percent.texts(125, f), percent.literalWords(125, f)]).toEqual([12.5, ["12.5"], "12.5%"]);
});
