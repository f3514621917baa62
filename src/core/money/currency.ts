/** Currencies as people write them before or after an amount: codes (ISO 4217) and signs (Unicode CLDR, through Intl). */
import { symbolOf } from "../text/format";

let signs: Map<string, Set<string>> | undefined;

/** Every code and sign, in capital letters, with the currencies that it may stand for. */
function known(): Map<string, Set<string>> {
  if (signs) return signs;
  signs = new Map();
  const add = (sign: string, code: string): void => {
    const key = sign.toUpperCase();
    const codes = signs!.get(key);
    if (codes) codes.add(code);
    else signs!.set(key, new Set([code]));
  };
  for (const code of Intl.supportedValuesOf("currency")) {
    add(code, code);
    add(symbolOf(code), code);
    const wide = new Intl.NumberFormat("en", { style: "currency", currency: code }).formatToParts(0).find((p) => p.type === "currency");
    if (wide) add(wide.value, code);
  }
  // Written so in many countries, though the platform shows other signs (common practice, no source).
  add("¥", "CNY");
  for (const crown of ["SEK", "NOK", "DKK", "ISK"]) add("kr", crown);
  return signs;
}

export interface Written {
  /** The amount without its currency. */
  readonly amount: string;
  /** What stood beside it; empty where nothing did. */
  readonly sign: string;
}

/** "-$ 1.25" is "-1.25" and "$"; "1.201,51 EUR" is "1.201,51" and "EUR". */
export function apart(text: string): Written {
  const t = text.trim();
  const before = /^([-+\u2212(]?)\s*([^\d\s.,()+\-\u2212]{1,5})\s*([-+\u2212]?)(?=[\d.,])/u.exec(t);
  if (before) return { amount: `${before[1]}${before[3]}${t.slice(before[0].length)}`, sign: before[2]! };
  const after = /(?<=[\d.,])\s*([^\d\s.,()+\-\u2212]{1,5})(\)?)$/u.exec(t);
  return after ? { amount: `${t.slice(0, after.index)}${after[2]}`, sign: after[1]! } : { amount: t, sign: "" };
}

/** The currencies that a sign may stand for; none for what is no currency. */
export const currenciesOf = (sign: string): ReadonlySet<string> => known().get(sign.toUpperCase()) ?? new Set();

/** The one most meant by a sign, `own` where that is among them. */
export function likeliest(sign: string, own: string): string | null {
  const codes = currenciesOf(sign);
  if (codes.has(own)) return own;
  return ["USD", "EUR", "GBP", "JPY", "SEK"].find((c) => codes.has(c)) ?? [...codes][0] ?? null;
}
