import { err, ok, type Result } from "../../result";
import { OF_LONG_WORDS, OF_WORDS } from "../operators";
import type { Value } from "../value";
import { type FieldKind, type Having, sole } from "./kind";

const MOST_TEXT = 1_000;
const MOST_LONG_TEXT = 100_000;

/** Letters of one composition (NFC), no NUL (SQLite's text functions stop there), no lone surrogates. */
const cleanText = (s: string): string => s.replaceAll("\u0000", "").toWellFormed().normalize("NFC");

function readText(text: string, most: number): Result<Value, string> {
  const t = cleanText(text).trim();
  if (t.length > most) return err(`This is ${t.length.toLocaleString("en")} characters long; at most ${most.toLocaleString("en")} fit.`);
  return ok(t === "" ? null : t);
}

const words = (name: string, most: number, long: boolean): FieldKind<Having> => ({
  name,
  operators: long ? OF_LONG_WORDS : OF_WORDS,
  many: null,
  sortable: true,
  numeric: false,
  folds: true,
  literal: "string",
  groupable: !long,
  importable: true,
  options: () => ({}),
  parse: (texts) => readText(sole(texts), most),
  texts: (v) => [String(v)],
  fromJson: (v) => (typeof v === "string" ? readText(v, most) : err("This must be text.")),
  toJson: (v) => v,
  jsonSchema: () => ({ type: ["string", "null"] }),
  words: (v) => String(v),
  cell: (v) => String(v),
  literalWords: (v) => `“${v}”`,
  search: (value) => ({ operator: "contains", value }),
});

export const text = words("Text", MOST_TEXT, false);
export const longText = words("Long text", MOST_LONG_TEXT, true);
