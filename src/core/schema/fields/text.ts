import { err, ok, type Result } from "../../result";
import { fitsMask } from "../../text/mask";
import { shortened } from "../../text/shortened";
import { OF_LONG_WORDS, OF_WORDS } from "../operators";
import { type FieldKind, given, type Having, type Of, sole } from "./kind";

const MOST_TEXT = 1_000;
const MOST_LONG_TEXT = 100_000;

/** Letters of one composition (NFC), no NUL (SQLite's text functions stop there), no lone surrogates. */
export const cleanText = (s: string): string =>
  PLAIN.test(s) ? s.trim() : s.replaceAll("\u0000", "").toWellFormed().normalize("NFC").trim();
/** Most texts of most files, of which nothing is to be cleaned. */
const PLAIN = /^[\x01-\x7f]*$/;

/**
 * Of one line: breaks and other controls are a space, and what turns the direction of writing is taken out, so that a name shows as what it is
 * (Unicode TR 36, section 2.5; TR 9, section 2).
 */
export const cleanLine = (s: string): string => (LINE.test(s) ? s.trim() : cleanText(s).replace(CONTROLS, " ").replace(TURNS, "").trim());
const LINE = /^[\x20-\x7e]*$/;
const CONTROLS = /[\u0000-\u001f\u007f-\u009f\u2028\u2029]+/g;
const TURNS = /[\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069]/g;

export type TextOptions = Having<never, "longest" | "mask" | "maskSays">;

function readText(text: string, f: Of<TextOptions>, limit: number, long: boolean): Result<string | null, string> {
  const t = long ? cleanText(text) : cleanLine(text);
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
  parse: (texts, f) => readText(sole(texts), f, most, long),
  texts: (v) => [String(v)],
  fromJson: (v, f) => (typeof v === "string" ? readText(v, f, most, long) : err("This must be text.")),
  toJson: (v) => v,
  jsonSchema: () => ({ type: ["string", "null"] }),
  words: (v) => String(v),
  cell: (v) => String(v),
  literalWords: (v) => `“${v}”`,
  search: (value) => ({ operator: "contains", value }),
});

export const text = words("Text", MOST_TEXT, false);
export const longText = words("Long text", MOST_LONG_TEXT, true);
