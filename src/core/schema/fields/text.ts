import { err, ok, type Result } from "../../result";
import { fitsMask } from "../../text/mask";
import { OF_LONG_WORDS, OF_WORDS } from "../operators";
import { type FieldKind, given, type Having, type Of, shortened, sole } from "./kind";

const MOST_TEXT = 1_000;
const MOST_LONG_TEXT = 100_000;

/** Letters of one composition (NFC), no NUL (SQLite's text functions stop there), no lone surrogates. */
export const cleanText = (s: string): string =>
  PLAIN.test(s) ? s.trim() : s.replaceAll("\u0000", "").toWellFormed().normalize("NFC").trim();
/** Most texts of most files, of which nothing is to be cleaned. */
const PLAIN = /^[\x01-\x7f]*$/;

export type TextOptions = Having<never, "longest" | "mask" | "maskSays">;

function readText(text: string, f: Of<TextOptions>, limit: number): Result<string | null, string> {
  const t = cleanText(text);
  const most = Math.min(limit, f.options.longest ?? limit);
  if (t.length > most) return err(`This is ${t.length.toLocaleString("en")} characters long; at most ${most.toLocaleString("en")} fit.`);
  if (t !== "" && f.options.mask && !fitsMask(t, f.options.mask))
    return err(f.options.maskSays || `“${shortened(t)}” does not have the form ${f.options.mask}.`);
  return ok(t === "" ? null : t);
}

const words = (name: string, most: number, long: boolean): FieldKind<TextOptions> => ({
  name,
  operators: long ? OF_LONG_WORDS : OF_WORDS,
  many: null,
  sortable: true,
  numeric: false,
  folds: true,
  literal: "string",
  groupable: !long,
  importable: true,
  options: (o) => given(o, "longest", "mask", "maskSays"),
  parse: (texts, f) => readText(sole(texts), f, most),
  texts: (v) => [String(v)],
  fromJson: (v, f) => (typeof v === "string" ? readText(v, f, most) : err("This must be text.")),
  toJson: (v) => v,
  jsonSchema: () => ({ type: ["string", "null"] }),
  words: (v) => String(v),
  cell: (v) => String(v),
  literalWords: (v) => `“${v}”`,
  search: (value) => ({ operator: "contains", value }),
});

export const text = words("Text", MOST_TEXT, false);
export const longText = words("Long text", MOST_LONG_TEXT, true);
