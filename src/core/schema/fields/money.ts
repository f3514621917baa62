/** Money in the minor units of one currency a field. */

import { err, ok, type Result } from "../../result";
import { formatMoney, minorDigits, symbolOf } from "../../text/format";
import { OF_ORDER } from "../operators";
import { readDecimal, scale, unscale } from "./decimal";
import { type FieldKind, type Having, shortened, sole } from "./kind";

/** Integer minor units; what is finer than those is rounded. */
export function readMoney(text: string, currency: string): Result<number, string> {
  const bare = text
    .trim()
    .replace(/^([-+(]?)\s*(?:[£$€¥]|[A-Z]{3})\s*/, "$1")
    .replace(/\s*(?:[£$€¥]|[A-Z]{3})$/, "");
  const negative = /^\(.*\)$/.test(bare);
  const read = readDecimal(negative ? bare.slice(1, -1) : bare);
  if (!read.ok) return err(`“${shortened(text)}” is not an amount of money.`);
  const minor = scale(read.value, minorDigits(currency), "round");
  if (!minor.ok) return err(`“${shortened(text)}” is too large an amount.`);
  return ok(negative && minor.value !== 0 ? -minor.value : minor.value);
}

const plain = (v: unknown, currency: string): string => unscale(v as number, minorDigits(currency));

export const money: FieldKind<Having<"currency">> = {
  name: "Money",
  operators: OF_ORDER,
  many: null,
  sortable: true,
  numeric: true,
  folds: false,
  literal: "number",
  groupable: false,
  importable: true,
  options: (given) => ({ currency: given.currency ?? "GBP" }),
  parse: (texts, f) => (sole(texts).trim() === "" ? ok(null) : readMoney(sole(texts), f.options.currency)),
  texts: (v, f) => [plain(v, f.options.currency)],
  fromJson: (v, f) => {
    const whole = typeof v === "object" && v !== null;
    const amount = whole ? (v as { amount?: unknown }).amount : v;
    const currency = whole ? (v as { currency?: unknown }).currency : f.options.currency;
    if (!Number.isSafeInteger(amount)) return err("This must be { amount: an integer in minor units, currency }.");
    return currency === f.options.currency ? ok(amount as number) : err(`The currency must be ${f.options.currency}.`);
  },
  toJson: (v, f) => ({ amount: v, currency: f.options.currency }),
  jsonSchema: (f) => ({
    type: ["object", "null"],
    properties: { amount: { type: "integer", description: "Minor units." }, currency: { const: f.options.currency } },
    required: ["amount", "currency"],
    additionalProperties: false,
  }),
  jsonInput: (f) => ({
    anyOf: [
      { type: ["integer", "null"], description: "Minor units." },
      {
        type: "object",
        properties: { amount: { type: "integer" }, currency: { const: f.options.currency } },
        required: ["amount", "currency"],
      },
    ],
  }),
  words: (v, f, l) => formatMoney(v as number, f.options.currency, l.locale),
  cell: (v, f) => Number(plain(v, f.options.currency)),
  sheet: (f) => ({
    format: `"${symbolOf(f.options.currency)}"#,##0${minorDigits(f.options.currency) > 0 ? `.${"0".repeat(minorDigits(f.options.currency))}` : ""}`,
  }),
  hint: (f) => `In ${f.options.currency}.`,
  literalWords: (v, f) => `${f.options.currency} ${plain(v, f.options.currency)}`,
};
