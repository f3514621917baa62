import { expect, it } from "vitest";
import { formatDate, formatMoment, formatMoney, formatNumber, listIn, minorDigits } from "./format";

/** Unicode CLDR separates by spaces that do not break, narrow ones among them: which of them is not the question here. */
const plain = (s: string): string => s.replace(/[\u00a0\u202f]/g, " ");

// What CLDR's data give for six locales (from memory; https://cldr.unicode.org): marks, groups of three or of two, where the sign stands.
it.each([
  ["en-GB", "GBP", "£1,234,567.50", "1,234,567.5", "7 Nov 2026", "A, B and C"],
  ["de-DE", "EUR", "1.234.567,50 €", "1.234.567,5", "7. Nov. 2026", "A, B und C"],
  ["fr-FR", "EUR", "1 234 567,50 €", "1 234 567,5", "7 nov. 2026", "A, B et C"],
  ["pl-PL", "PLN", "1 234 567,50 zł", "1 234 567,5", "7 lis 2026", "A, B i C"],
  ["hi-IN", "INR", "₹12,34,567.50", "12,34,567.5", "7 नव॰ 2026", "A, B, और C"],
  ["ja-JP", "JPY", "￥123,456,750", "1,234,567.5", "2026年11月7日", "A、B、C"],
])("%s", (locale, currency, money, number, date, list) => {
  expect(plain(formatMoney(123_456_750, currency, locale))).toBe(money);
  expect(plain(formatNumber(1_234_567.5, locale))).toBe(number);
  expect(plain(formatDate("2026-11-07", locale))).toBe(date);
  expect(listIn(["A", "B", "C"], locale)).toBe(list);
});

it("holds as many digits as ISO 4217 gives a currency, and a moment as the clocks of its zone show it", () => {
  expect([minorDigits("JPY"), minorDigits("GBP"), minorDigits("KWD")]).toEqual([0, 2, 3]);
  expect(plain(formatMoney(1_234_567, "KWD", "en-GB"))).toBe("KWD 1,234.567");
  // Summer time ends in Britain at 01:00 UTC on the last Sunday of October (common practice, no source): one instant each side.
  expect(formatMoment("2026-10-25T00:30:00Z", "en-GB", "Europe/London")).toBe("25 Oct 2026, 01:30");
  expect(formatMoment("2026-10-25T01:30:00Z", "en-GB", "Europe/London")).toBe("25 Oct 2026, 01:30");
});
