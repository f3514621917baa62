/** Money in the minor units of one currency a field. */

import { apart, currenciesOf } from "../../money/currency";
import { err, ok, type Result } from "../../result";
import { readDecimal, scale, unscale } from "../../text/decimal";
import { formatMoney, minorDigits, symbolOf } from "../../text/format";
import { shortened } from "../../text/shortened";
import { OF_ORDER } from "../operators";
import { type FieldKind, given, type Having, type Of, sole } from "./kind";
import { within } from "./number";

/**
 * Integer minor units. What is finer than those is rounded, as files have it from reckoning, or refused where somebody types it. An amount
 * that names another currency is refused, never taken for this one.
 */
export function readMoney(text: string, currency: string, mark?: "." | ",", finer: "round" | "refuse" = "round"): Result<number, string> {
  const { amount: bare, sign } = apart(text);
  const amount = bare.replace("\u2212", "-");
  if (sign !== "") {
    const codes = currenciesOf(sign);
    if (codes.size === 0) return err(`“${shortened(text)}” is not an amount of money.`);
    if (!codes.has(currency)) return err(`“${shortened(text)}” is in another currency: this field is in ${currency}.`);
  }
  // "1e3" is a number of a spreadsheet's; of an amount it is a slip.
  if (/\de/i.test(amount)) return err(`“${shortened(text)}” is not an amount of money.`);
  const negative = /^\(.*\)$/.test(amount);
  const read = readDecimal(negative ? amount.slice(1, -1) : amount, mark);
  if (!read.ok) return err(`“${shortened(text)}” is not an amount of money.`);
  const minor = scale(read.value, minorDigits(currency), finer);
  if (!minor.ok && minor.error === "finer") return err(`“${shortened(text)}” is finer than ${currency} has it.`);
  if (!minor.ok) return err(`“${shortened(text)}” is too large an amount.`);
  return ok(negative && minor.value !== 0 ? -minor.value : minor.value);
}

const plain = (v: unknown, currency: string): string => unscale(v as number, minorDigits(currency));

type Options = Having<"currency", "least" | "most">;

const bounded = (n: Result<number, string>, f: Of<Options>): Result<number, string> =>
  within(n, f.options, (b) => `${f.options.currency} ${plain(b, f.options.currency)}`);

export const money: FieldKind<Options> = {
  name: "Money",
  operators: OF_ORDER,
  many: null,
  sortable: true,
  numeric: true,
  folds: false,
  literal: "number",
  groupable: false,
  importable: true,
  options: (o) => ({ currency: o.currency ?? "GBP", ...given(o, "least", "most") }),
  parse: (texts, f, reading) =>
    sole(texts).trim() === "" ? ok(null) : bounded(readMoney(sole(texts), f.options.currency, reading?.mark), f),
  texts: (v, f) => [plain(v, f.options.currency)],
  fromJson: (v, f) => {
    const whole = typeof v === "object" && v !== null;
    const amount = whole ? (v as { amount?: unknown }).amount : v;
    const currency = whole ? (v as { currency?: unknown }).currency : f.options.currency;
    if (!Number.isSafeInteger(amount)) return err("This must be { amount: an integer in minor units, currency }.");
    return currency === f.options.currency ? bounded(ok(amount as number), f) : err(`The currency must be ${f.options.currency}.`);
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
