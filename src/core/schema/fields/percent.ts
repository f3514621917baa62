/** A share of a hundred, stored like a number: 12.5 % with one decimal is 125. */
import { ok } from "../../result";
import { unscale } from "../../text/decimal";
import { type FieldKind, given, type Having, sole } from "./kind";
import { number } from "./number";

const withoutSign = (text: string): string => text.trim().replace(/\s*%$/, "");

export const percent: FieldKind<Having<"decimals", "least" | "most">> = {
  ...number,
  name: "Percent",
  options: (o) => ({ decimals: number.options({ decimals: o.decimals ?? 1 }).decimals, ...given(o, "least", "most") }),
  parse: (texts, f, reading) => (withoutSign(sole(texts)) === "" ? ok(null) : number.parse([withoutSign(sole(texts))], f, reading)),
  words: (v, f, l) => {
    const { decimals } = f.options;
    const format = new Intl.NumberFormat(l.locale, { style: "percent", maximumFractionDigits: decimals });
    return format.format(Number(unscale(v as number, decimals + 2)));
  },
  // 12.5 stands for 12.5 %, as in every other file.
  sheet: (f) => ({ format: `${number.sheet!(f).format}"%"` }),
  hint: () => "In percent: 12.5 is 12.5 %.",
  literalWords: (v, f) => `${number.literalWords(v, f)}%`,
};
