/** A number, stored as an integer scaled by the field's decimals: 12.5 with two of them is 1250. */

import { err, ok, type Result } from "../../result";
import { formatNumber } from "../../text/format";
import { OF_ORDER } from "../operators";
import { readDecimal, scale, unscale } from "./decimal";
import { type FieldKind, type Having, shortened, sole } from "./kind";

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

export const number: FieldKind<Having<"decimals">> = {
  name: "Number",
  operators: OF_ORDER,
  many: null,
  sortable: true,
  numeric: true,
  folds: false,
  literal: "number",
  groupable: false,
  importable: true,
  options: (given) => ({ decimals: Math.min(MOST_DECIMALS, given.decimals ?? 2) }),
  parse: (texts, f) => {
    if (sole(texts).trim() === "") return ok(null);
    const read = readDecimal(sole(texts));
    return read.ok ? scaledNumber(read.value, f.options.decimals, sole(texts)) : read;
  },
  texts: (v, f) => [unscale(v as number, f.options.decimals).replace(/\.0+$|(\.\d*?)0+$/, "$1")],
  fromJson: (v, f) => {
    // A JSON number is a double here, and its shortest text is the decimal that was written (ECMA-262, Number::toString).
    const read = typeof v === "number" ? readDecimal(String(v)) : err("");
    return read.ok ? scaledNumber(read.value, f.options.decimals, String(v)) : err("This must be a number.");
  },
  toJson: (v, f) => Number(unscale(v as number, f.options.decimals)),
  jsonSchema: (f) => ({ type: ["number", "null"], description: `At most ${f.options.decimals} digits after the point.` }),
  words: (v, f, l) => formatNumber(Number(unscale(v as number, f.options.decimals)), l.locale),
  cell: (v, f) => Number(unscale(v as number, f.options.decimals)),
  // Without thousands: a year is a number, too.
  sheet: (f) => ({ format: digits(f.options.decimals) }),
  literalWords: (v, f) => String(Number(unscale(v as number, f.options.decimals))),
};
