/** A field's value in a JSON body (see the HTTP API): what comes in, and what goes out. */
import { err, ok, type Result } from "../result";
import type { Field, Value } from "../schema/types";
import { isCalendarDate } from "../time/relative";
import { MOST_LONG_TEXT, MOST_TEXT, readCell, readText } from "./cells";

const idOf = (v: unknown): string | undefined =>
  typeof v === "string"
    ? v
    : typeof v === "object" && v !== null && typeof (v as { id?: unknown }).id === "string"
      ? (v as { id: string }).id
      : undefined;

export function readJson(field: Field, v: unknown): Result<Value, string> {
  if (v === null) return ok(field.type === "relations" || field.type === "choices" ? [] : null);
  switch (field.type) {
    case "text":
    case "long-text":
      return typeof v === "string" ? emptied(readText(v, field.type === "text" ? MOST_TEXT : MOST_LONG_TEXT)) : err("This must be text.");
    case "number":
      return typeof v === "number" && Number.isFinite(v) ? ok(v) : err("This must be a number.");
    case "money": {
      const amount = typeof v === "object" ? (v as { amount?: unknown }).amount : v;
      const currency = typeof v === "object" ? (v as { currency?: unknown }).currency : field.options.currency;
      if (!Number.isSafeInteger(amount)) return err("This must be { amount: an integer in minor units, currency }.");
      return currency === field.options.currency ? ok(amount as number) : err(`The currency must be ${field.options.currency}.`);
    }
    case "date":
      return typeof v === "string" && isCalendarDate(v) ? ok(v) : err("This must be a date written YYYY-MM-DD.");
    case "yes-no":
      return typeof v === "boolean" ? ok(v) : err("This must be true or false.");
    case "choice":
      return typeof v === "string" ? readCell(field, v) : err(`This must be one of: ${(field.options.choices ?? []).join(", ")}.`);
    case "choices":
    case "relations": {
      if (!Array.isArray(v) || v.length > 500) return err("This must be a list of at most 500.");
      const ids = v.map(idOf);
      if (ids.some((x) => x === undefined)) return err("Each item must be text, or an object with an id.");
      return field.type === "choices" ? readCell(field, ids.join(";")) : ok([...new Set(ids as string[])]);
    }
    case "relation": {
      const id = idOf(v);
      return id === undefined ? err("This must be a record's id, or an object with an id.") : ok(id);
    }
  }
}

const emptied = (r: Result<string, string>): Result<Value, string> => (r.ok && r.value === "" ? ok(null) : r);
