/** Numbers, money and dates in the words of a locale (Unicode CLDR, through Intl). */

const formats = new Map<string, Intl.NumberFormat | Intl.DateTimeFormat>();
function formatter<T extends Intl.NumberFormat | Intl.DateTimeFormat>(key: string, make: () => T): T {
  let f = formats.get(key);
  if (!f) formats.set(key, (f = make()));
  return f as T;
}

const digitsOf = new Map<string, number>();
/** Digits after the decimal point in a currency (ISO 4217, as the platform's CLDR data has it). */
export function minorDigits(currency: string): number {
  let d = digitsOf.get(currency);
  if (d === undefined) {
    d = new Intl.NumberFormat("en", { style: "currency", currency }).resolvedOptions().maximumFractionDigits ?? 2;
    digitsOf.set(currency, d);
  }
  return d;
}

export const formatMoney = (minor: number, currency: string, locale: string): string =>
  formatter(`m${currency}${locale}`, () => new Intl.NumberFormat(locale, { style: "currency", currency })).format(
    minor / 10 ** minorDigits(currency),
  );

export const formatNumber = (n: number, locale: string): string =>
  formatter(`n${locale}`, () => new Intl.NumberFormat(locale, { maximumFractionDigits: 6 })).format(n);

/** A calendar date has no time zone of its own: it is the same day everywhere. */
export const formatDate = (d: string, locale: string): string =>
  formatter(
    `d${locale}`,
    () => new Intl.DateTimeFormat(locale, { timeZone: "UTC", day: "numeric", month: "short", year: "numeric" }),
  ).format(Date.parse(`${d}T00:00:00Z`));
