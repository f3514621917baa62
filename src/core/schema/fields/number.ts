/** A number, stored as an integer scaled by the field's decimals: 12.5 with two of them is 1250. */

import { err, ok, type Result } from "../../result";
import { readDecimal, scale, unscale } from "../../text/decimal";
import { formatNumber } from "../../text/format";
import { shortened } from "../../text/shortened";
import { OF_ORDER } from "../operators";
import { type FieldKind, given, type Having, type Of, sole } from "./kind";

export const MOST_DECIMALS = 6;

/** `said` is what the person wrote, for the sentence that refuses it. */
export function scaledNumber(decimal: string, decimals: number, said: string): Result<number, string> {
  const n = scale(decimal, decimals);
  if (n.ok) return n;
  if (n.error === "large") return err(`“${shortened(said)}” is too large a number.`);
  return err(
    decimals === 0
      ? `“${shortened(said)}” is not a whole number.`
      : `“${shortened(said)}” has more than ${decimals} ${decimals === 1 ? "digit" : "digits"} after the point.`,
  );
}

const digits = (decimals: number): string => (decimals === 0 ? "0" : `0.${"0".repeat(decimals)}`);

/** Refuses what is beyond the field's bounds; `shown` writes one for the sentence. */
export function within(
  n: Result<number, string>,
  bounds: { readonly least?: number | undefined; readonly most?: number | undefined },
  shown: (n: number) => string,
): Result<number, string> {
  if (!n.ok) return n;
  if (bounds.least !== undefined && n.value < bounds.least) return err(`It must be ${shown(bounds.least)} at least.`);
  if (bounds.most !== undefined && n.value > bounds.most) return err(`It must be ${shown(bounds.most)} at most.`);
  return n;
}

type Options = Having<"decimals", "plain" | "unit" | "least" | "most">;

const short = (n: number, f: Of<Options>): string => unscale(n, f.options.decimals).replace(/\.0+$|(\.\d*?)0+$/, "$1");
const bounded = (n: Result<number, string>, f: Of<Options>): Result<number, string> => within(n, f.options, (b) => short(b, f));

export const number: FieldKind<Options> = {
  name: "Number",
  operators: OF_ORDER,
  many: null,
  sortable: true,
  numeric: true,
  folds: false,
  literal: "number",
  groupable: false,
  importable: true,
  options: (o) => ({ decimals: Math.min(MOST_DECIMALS, o.decimals ?? 2), ...given(o, "plain", "unit", "least", "most") }),
  parse: (texts, f, reading) => {
    const unit = f.options.unit;
    const text = sole(texts).trim();
    const bare = unit && text.endsWith(unit) ? text.slice(0, -unit.length) : text;
    if (bare.trim() === "") return ok(null);
    const read = readDecimal(bare, reading?.mark);
    return read.ok ? bounded(scaledNumber(read.value, f.options.decimals, text), f) : err(`“${shortened(text)}” is not a number.`);
  },
  texts: (v, f) => [short(v as number, f)],
  fromJson: (v, f) => {
    // A JSON number is a double here, and its shortest text is the decimal that was written (ECMA-262, Number::toString).
    const read = typeof v === "number" ? readDecimal(String(v)) : err("");
    return read.ok ? bounded(scaledNumber(read.value, f.options.decimals, String(v)), f) : err("This must be a number.");
  },
  toJson: (v, f) => Number(unscale(v as number, f.options.decimals)),
  jsonSchema: (f) => ({ type: ["number", "null"], description: `At most ${f.options.decimals} digits after the point.` }),
  words: (v, f, l) => {
    const n = f.options.plain ? short(v as number, f) : formatNumber(Number(unscale(v as number, f.options.decimals)), l.locale);
    return f.options.unit ? `${n}\u00a0${f.options.unit}` : n;
  },
  cell: (v, f) => Number(unscale(v as number, f.options.decimals)),
  // Without thousands: a year is a number, too.
  sheet: (f) => ({ format: digits(f.options.decimals) }),
  hint: (f) => (f.options.unit ? `In ${f.options.unit}.` : ""),
  literalWords: (v, f) => String(Number(unscale(v as number, f.options.decimals))),
};
