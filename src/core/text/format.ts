/** Numbers, money and dates in the words of a locale (Unicode CLDR, through Intl). */

import { unscale } from "./decimal";

type Format = Intl.NumberFormat | Intl.DateTimeFormat | Intl.ListFormat;
const formats = new Map<string, Format>();
function formatter<T extends Format>(key: string, make: () => T): T {
  let f = formats.get(key);
  if (!f) formats.set(key, (f = make()));
  return f as T;
}

/** Where the platform shows the digits that are in use (Unicode CLDR), and the standard has others: amounts are held by the standard. */
const BY_STANDARD: Readonly<Record<string, number>> = {
  ...Object.fromEntries("AFN ALL COP HUF IDR IRR KPW LAK LBP MGA MMK PKR SOS SYP YER".split(" ").map((code) => [code, 2])),
  IQD: 3,
};
const digitsOf = new Map<string, number>();
/** Digits after the decimal point in a currency: ISO 4217, for those that have a minor unit. */
export function minorDigits(currency: string): number {
  let d = digitsOf.get(currency);
  if (d === undefined) {
    d = BY_STANDARD[currency] ?? new Intl.NumberFormat("en", { style: "currency", currency }).resolvedOptions().maximumFractionDigits ?? 2;
    digitsOf.set(currency, d);
  }
  return d;
}

/** "£" for GBP; a currency without a sign of its own is called by its code. */
export const symbolOf = (currency: string): string =>
  new Intl.NumberFormat("en", { style: "currency", currency, currencyDisplay: "narrowSymbol" })
    .formatToParts(0)
    .find((p) => p.type === "currency")?.value ?? currency;

/** An amount in minor units, such as pence, with its currency in this locale. */
export const formatMoney = (minor: number, currency: string, locale: string): string =>
  formatter(`m${currency}${locale}`, () => {
    const digits = minorDigits(currency);
    return new Intl.NumberFormat(locale, { style: "currency", currency, minimumFractionDigits: digits, maximumFractionDigits: digits });
  }).format(minor / 10 ** minorDigits(currency));

/** As somebody would type it: digits and a point, no sign of the currency. Read back it is the same amount. */
export const plainAmount = (minor: number, currency: string): string => unscale(minor, minorDigits(currency));

/** A number with the separators of a locale, and at most six decimals. */
export const formatNumber = (n: number, locale: string): string =>
  formatter(`n${locale}`, () => new Intl.NumberFormat(locale, { maximumFractionDigits: 6 })).format(n);

/** A calendar date has no time zone of its own: it is the same day everywhere. */
export const formatDate = (d: string, locale: string): string =>
  formatter(
    `d${locale}`,
    () => new Intl.DateTimeFormat(locale, { timeZone: "UTC", day: "numeric", month: "short", year: "numeric" }),
  ).format(Date.parse(`${d}T00:00:00Z`));

/** "Signs, Proofs and Invoices", as the locale joins names. */
export const listIn = (names: readonly string[], locale: string): string =>
  formatter(`l${locale}`, () => new Intl.ListFormat(locale, { type: "conjunction" })).format(names);

/** An instant as the clocks of the zone show it: "15 Jun 2026, 12:30". */
export const formatMoment = (instant: string, locale: string, timeZone: string): string =>
  formatter(`t${locale}${timeZone}`, () => new Intl.DateTimeFormat(locale, { timeZone, dateStyle: "medium", timeStyle: "short" })).format(
    Date.parse(instant),
  );

/** In kilobytes or megabytes of a thousand (SI), as people read the size of a file. */
export function formatBytes(bytes: number, locale: string): string {
  const [unit, n] = bytes < 1_000_000 ? ["kilobyte", bytes / 1_000] : ["megabyte", bytes / 1_000_000];
  return new Intl.NumberFormat(locale, { style: "unit", unit, maximumFractionDigits: 1 }).format(n);
}
