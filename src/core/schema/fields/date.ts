/** A calendar date, `YYYY-MM-DD`: the same day everywhere. */

import { err, ok, type Result } from "../../result";
import { formatDate } from "../../text/format";
import { shortened } from "../../text/shortened";
import { isCalendarDate } from "../../time/relative";
import { OF_ORDER } from "../operators";
import { type DateOrder, type FieldKind, type Having, sole } from "./kind";

/** A date as people write it, as YYYY-MM-DD; `order` says which of day and month stands first. */
export function readDate(text: string, order: DateOrder): Result<string, string> {
  const t = text.trim();
  const bad = () => err(`“${shortened(t)}” is not a date${order === "iso" ? " (YYYY-MM-DD)" : ""}.`);
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})(?:[T ]00:00(?::00(?:\.0+)?)?Z?)?$/.exec(t);
  const pad = (s: string) => s.padStart(2, "0");
  if (iso) {
    const d = `${iso[1]}-${pad(iso[2]!)}-${pad(iso[3]!)}`;
    return isCalendarDate(d) ? ok(d) : bad();
  }
  const parts = order === "iso" ? null : /^(\d{1,2})[/. -](\d{1,2})[/. -](\d{4})$/.exec(t);
  if (!parts) return bad();
  const [day, month] = order === "day-first" ? [parts[1]!, parts[2]!] : [parts[2]!, parts[1]!];
  const d = `${parts[3]}-${pad(month)}-${pad(day)}`;
  return isCalendarDate(d) ? ok(d) : bad();
}

export const date: FieldKind<Having> = {
  name: "Date",
  operators: OF_ORDER,
  operatorWords: { "less-than": "is before", "at-most": "is on or before", "more-than": "is after", "at-least": "is on or after" },
  many: null,
  sortable: true,
  numeric: true,
  folds: false,
  literal: "string",
  groupable: true,
  importable: true,
  options: () => ({}),
  parse: (texts, _, reading) => (sole(texts).trim() === "" ? ok(null) : readDate(sole(texts), reading?.order ?? "iso")),
  texts: (v) => [String(v)],
  fromJson: (v) => (typeof v === "string" && isCalendarDate(v) ? ok(v) : err("This must be a date written YYYY-MM-DD.")),
  toJson: (v) => v,
  jsonSchema: () => ({ type: ["string", "null"], format: "date" }),
  words: (v, _, l) => formatDate(v as string, l.locale),
  cell: (v) => String(v),
  sheet: () => ({ format: "d mmm yyyy", date: true }),
  literalWords: (v) => `“${v}”`,
};
