/** Countries by their two letters (ISO 3166-1 alpha-2), named in a locale's language (Unicode CLDR, through Intl). */
const LETTERS = [..."ABCDEFGHIJKLMNOPQRSTUVWXYZ"];
/** Exceptional and transitional reservations that CLDR names beside countries. */
const NONE = new Set([
  "AC",
  "AN",
  "BU",
  "CP",
  "CQ",
  "CS",
  "DD",
  "DG",
  "DY",
  "EA",
  "EU",
  "EZ",
  "FX",
  "HV",
  "IC",
  "NH",
  "QO",
  "QU",
  "RH",
  "SU",
  "TA",
  "TP",
  "UK",
  "UN",
  "VD",
  "XA",
  "XB",
  "YD",
  "YU",
  "ZR",
  "ZZ",
]);

const known = new Map<string, readonly { code: string; name: string }[]>();

/** All countries (ISO 3166-1 alpha-2) with their names in this language, in its order. */
export function countriesIn(locale: string): readonly { code: string; name: string }[] {
  let list = known.get(locale);
  if (!list) {
    const names = new Intl.DisplayNames([locale], { type: "region", fallback: "none" });
    const order = new Intl.Collator(locale);
    list = LETTERS.flatMap((a) => LETTERS.map((b) => a + b))
      .filter((code) => !NONE.has(code))
      .flatMap((code) => {
        const name = names.of(code);
        return name ? [{ code, name }] : [];
      })
      .sort((a, b) => order.compare(a.name, b.name));
    known.set(locale, list);
  }
  return list;
}
/** The name of a country by its code (ISO 3166-1 alpha-2) in a locale; the code where it is unknown. */
export const countryName = (code: string, locale: string): string => countriesIn(locale).find((c) => c.code === code)?.name ?? code;
