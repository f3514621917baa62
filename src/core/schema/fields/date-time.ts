/** A moment, stored as an instant in UTC (`2026-06-15T11:30:00.000Z`) and shown in the portal's time zone. */
import { err, ok, type Result } from "../../result";
import { formatMoment } from "../../text/format";
import { shortened } from "../../text/shortened";
import { instantOf, startOfDay, wallTime } from "../../time/zoned";
import type { Operator } from "../operators";
import { readDate } from "./date";
import { type DateOrder, type FieldKind, type Having, type Reading, sole } from "./kind";

/** A moment is hardly ever met exactly: before, from, and between. */
const OPERATORS: readonly Operator[] = ["less-than", "at-least", "between", "is-empty", "is-not-empty"];

/** With an offset of its own (RFC 3339 section 5.6), or as the wall of the zone says it. A date alone is the beginning of its day. */
export function readMoment(text: string, { order = "iso", timeZone = "UTC" }: Reading): Result<string, string> {
  const t = text.trim();
  const bad = err(`“${shortened(t)}” is not a date with a time.`);
  const parts =
    /^(\S+?|\d{1,2}[/. -]\d{1,2}[/. -]\d{4})(?:[T ,]\s*(\d{1,2}):(\d{2})(?::(\d{2})(?:\.(\d+))?)?\s*([ap]m)?\s*(Z|[+-]\d{2}:?\d{2})?)?$/i.exec(
      t,
    );
  if (!parts) return bad;
  const [, day = "", hour = "0", minute = "0", second = "0", part = "", half, offset] = parts;
  const date = readDate(day, order as DateOrder);
  if (!date.ok) return bad;
  if (parts[2] === undefined) return ok(startOfDay(date.value, timeZone));
  const given = Number(hour);
  if (half ? given < 1 || given > 12 : given > 23) return bad;
  const hours = half ? (given % 12) + (half.toLowerCase() === "pm" ? 12 : 0) : given;
  const wall = { date: date.value, hours, minutes: Number(minute), seconds: Number(second) };
  if (wall.minutes > 59 || wall.seconds > 59) return bad;
  // What is finer than a thousandth is let go: an instant holds no more (ECMA-262, time values).
  const finer = Number(part.slice(0, 3).padEnd(3, "0"));
  const moment = (at: string, shift = 0): string =>
    finer === 0 && shift === 0 ? at : new Date(Date.parse(at) + finer - shift * 60_000).toISOString();
  if (!offset) return ok(moment(instantOf(wall, timeZone)));
  const by = /^([+-])(\d{2}):?(\d{2})$/.exec(offset);
  const shift = by ? (by[1] === "-" ? -1 : 1) * (Number(by[2]) * 60 + Number(by[3])) : 0;
  return ok(moment(instantOf(wall, "UTC"), shift));
}

export const dateTime: FieldKind<Having> = {
  name: "Date and time",
  operators: OPERATORS,
  operatorWords: { "less-than": "is before", "at-least": "is at or after" },
  many: null,
  sortable: true,
  numeric: true,
  folds: false,
  literal: "string",
  groupable: false,
  importable: true,
  options: () => ({}),
  parse: (texts, _, reading) => (sole(texts).trim() === "" ? ok(null) : readMoment(sole(texts), reading ?? {})),
  texts: (v, _, timeZone) => [timeZone ? wallTime(String(v), timeZone) : String(v)],
  fromJson: (v) =>
    typeof v === "string" && /T.*(?:Z|[+-]\d{2}:\d{2})$/i.test(v)
      ? readMoment(v, {})
      : err("This must be a date with a time and an offset, as in RFC 3339: 2026-06-15T11:30:00Z."),
  toJson: (v) => v,
  jsonSchema: () => ({ type: ["string", "null"], format: "date-time" }),
  words: (v, _, l) => formatMoment(String(v), l.locale, l.timeZone),
  cell: (v) => String(v),
  literalWords: (v) => `“${v}”`,
};
