/** From the words of a cell or a form to a typed value. The error is a sentence that names what was found. */
import { err, ok, type Result } from "../result";
import type { Field, Value } from "../schema/types";
import { isCalendarDate } from "../time/relative";
import type { DateOrder } from "./guess";

export const MOST_TEXT = 1_000;
export const MOST_LONG_TEXT = 100_000;

type Read<T> = Result<T, string>;

const short = (s: string): string => (s.length > 40 ? `${s.slice(0, 40)}…` : s);

/** 1,234.5 and 1 234,5 and 1234.5; a lone comma followed by three digits groups thousands. */
export function readNumber(text: string): Read<number> {
  const bad = err(`“${short(text)}” is not a number.`);
  let t = text.trim().replace(/[\s\u00a0\u202f']/g, "");
  if (/^[-+]?\d{1,3}(,\d{3})+(\.\d+)?$/.test(t)) t = t.replaceAll(",", "");
  else if (/^[-+]?\d{1,3}(\.\d{3})+,\d+$/.test(t)) t = t.replaceAll(".", "").replace(",", ".");
  else if (/^[-+]?\d+,\d+$/.test(t)) t = t.replace(",", ".");
  if (!/^[-+]?(\d+(\.\d*)?|\.\d+)(e[-+]?\d+)?$/i.test(t)) return bad;
  const n = Number(t);
  return Number.isFinite(n) ? ok(n) : bad;
}

const digitsOf = new Map<string, number>();
/** Digits after the decimal point in a currency (ISO 4217, as the platform's CLDR data has it). */
export function minorDigits(currency: string): number {
  let d = digitsOf.get(currency);
  if (d === undefined) {
    d = new Intl.NumberFormat("en", { style: "currency", currency }).resolvedOptions().maximumFractionDigits ?? 2;
    digitsOf.set(currency, d);
  }
  return d;
}

/** Integer minor units. */
export function readMoney(text: string, currency: string): Read<number> {
  const bare = text
    .trim()
    .replace(/^([-+(]?)\s*(?:[£$€¥]|[A-Z]{3})\s*/, "$1")
    .replace(/\s*(?:[£$€¥]|[A-Z]{3})$/, "");
  const negative = /^\(.*\)$/.test(bare);
  const n = readNumber(negative ? bare.slice(1, -1) : bare);
  if (!n.ok) return err(`“${short(text)}” is not an amount of money.`);
  const minor = Math.round((negative ? -n.value : n.value) * 10 ** minorDigits(currency));
  return Number.isSafeInteger(minor) ? ok(minor) : err(`“${short(text)}” is too large an amount.`);
}

export function readDate(text: string, order: DateOrder): Read<string> {
  const t = text.trim();
  const bad = err(`“${short(t)}” is not a date${order === "iso" ? " (YYYY-MM-DD)" : ""}.`);
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})(?:[T ]00:00(?::00(?:\.0+)?)?Z?)?$/.exec(t);
  const pad = (s: string) => s.padStart(2, "0");
  if (iso) {
    const d = `${iso[1]}-${pad(iso[2]!)}-${pad(iso[3]!)}`;
    return isCalendarDate(d) ? ok(d) : bad;
  }
  const parts = order === "iso" ? null : /^(\d{1,2})[/. -](\d{1,2})[/. -](\d{4})$/.exec(t);
  if (!parts) return bad;
  const [day, month] = order === "day-first" ? [parts[1]!, parts[2]!] : [parts[2]!, parts[1]!];
  const d = `${parts[3]}-${pad(month)}-${pad(day)}`;
  return isCalendarDate(d) ? ok(d) : bad;
}

export function readYesNo(text: string): Read<boolean> {
  const t = text.trim().toLowerCase();
  if (["yes", "y", "true", "1", "on"].includes(t)) return ok(true);
  if (["no", "n", "false", "0", "off"].includes(t)) return ok(false);
  return err(`“${short(text)}” is neither yes nor no.`);
}

/** Letters of one composition (NFC), no NUL (SQLite's text functions stop there), no lone surrogates. */
export const cleanText = (s: string): string => s.replaceAll("\u0000", "").toWellFormed().normalize("NFC");

export function readText(text: string, most: number): Read<string> {
  const t = cleanText(text).trim();
  return t.length > most
    ? err(`This is ${t.length.toLocaleString("en")} characters long; at most ${most.toLocaleString("en")} fit.`)
    : ok(t);
}

/** An empty cell is an empty value. Relations are looked up by whoever knows the records. */
export function readCell(field: Field, text: string, order: DateOrder = "iso"): Read<Value> {
  if (text.trim() === "") return ok(field.type === "choices" ? [] : null);
  switch (field.type) {
    case "text":
      return readText(text, MOST_TEXT);
    case "long-text":
      return readText(text, MOST_LONG_TEXT);
    case "number":
      return readNumber(text);
    case "money":
      return readMoney(text, field.options.currency ?? "GBP");
    case "date":
      return readDate(text, order);
    case "yes-no":
      return readYesNo(text);
    case "choice":
      return oneOf(field, text.trim());
    case "choices": {
      const parts = text.split(/[,;]/).map((p) => oneOf(field, p.trim()));
      const bad = parts.find((p) => !p.ok);
      return bad ?? ok(parts.flatMap((p) => (p.ok ? [p.value] : [])));
    }
    case "relation":
      return ok(text.trim());
    case "relations":
      return ok(
        text
          .split(/[,;]/)
          .map((p) => p.trim())
          .filter(Boolean),
      );
  }
}

function oneOf(field: Field, text: string): Read<string> {
  const choices = field.options.choices ?? [];
  const found = choices.find((c) => c === text) ?? choices.find((c) => c.toLowerCase() === text.toLowerCase());
  return found !== undefined ? ok(found) : err(`“${short(text)}” is not one of: ${choices.join(", ")}.`);
}
