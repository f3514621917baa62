/** Values as they leave: JSON for programs, words for people, cells for spreadsheets. */
import { isLink, isLinks, type Link, type SeenRecord, type SeenValue } from "../records";
import type { Field, Scalar, Table } from "../schema/types";
import { minorDigits } from "./cells";

export interface Locale {
  readonly locale: string;
  readonly timeZone: string;
}

/** As the HTTP API shows it: relations { id, label } or { withheld: true }, money { amount, currency }, the rest plain. */
export function toJson(field: Field, v: SeenValue): unknown {
  return field.type === "money" && typeof v === "number" ? { amount: v, currency: field.options.currency } : v;
}

export function recordJson(table: Table, r: SeenRecord): { id: string; fields: Record<string, unknown> } {
  const fields: Record<string, unknown> = {};
  for (const f of table.fields) if (f.id in r.fields) fields[f.slug] = toJson(f, r.fields[f.id]!);
  return { id: r.id, fields };
}

const formats = new Map<string, Intl.NumberFormat | Intl.DateTimeFormat>();
function formatter<T extends Intl.NumberFormat | Intl.DateTimeFormat>(key: string, make: () => T): T {
  let f = formats.get(key);
  if (!f) formats.set(key, (f = make()));
  return f as T;
}

export function formatMoney(minor: number, currency: string, locale: string): string {
  return formatter(`m${currency}${locale}`, () => new Intl.NumberFormat(locale, { style: "currency", currency })).format(
    minor / 10 ** minorDigits(currency),
  );
}
export const formatNumber = (n: number, locale: string): string =>
  formatter(`n${locale}`, () => new Intl.NumberFormat(locale, { maximumFractionDigits: 6 })).format(n);
/** A calendar date has no time zone of its own: it is the same day everywhere. */
export const formatDate = (d: string, locale: string): string =>
  formatter(
    `d${locale}`,
    () => new Intl.DateTimeFormat(locale, { timeZone: "UTC", day: "numeric", month: "short", year: "numeric" }),
  ).format(Date.parse(`${d}T00:00:00Z`));

export const linkWords = (l: Link): string => ("withheld" in l ? "withheld" : l.label || "unnamed");

export function toWords(field: Field, v: SeenValue | undefined, l: Locale): string {
  if (v === null || v === undefined) return "";
  if (isLink(v)) return linkWords(v);
  if (isLinks(v)) return v.map(linkWords).join(", ");
  if (Array.isArray(v)) return v.join(", ");
  switch (field.type) {
    case "money":
      return formatMoney(v as number, field.options.currency ?? "GBP", l.locale);
    case "number":
      return formatNumber(v as number, l.locale);
    case "date":
      return formatDate(v as string, l.locale);
    case "yes-no":
      return v ? "Yes" : "No";
    default:
      return String(v);
  }
}

/** For CSV and spreadsheets: numbers stay numbers, dates are ISO 8601, withheld relations say so. */
export function toCell(field: Field, v: SeenValue | undefined): Scalar | null {
  if (v === null || v === undefined) return null;
  if (isLink(v)) return linkWords(v);
  if (isLinks(v)) return v.map(linkWords).join("; ");
  if (Array.isArray(v)) return (v as readonly string[]).join("; ");
  if (field.type === "money") return (v as number) / 10 ** minorDigits(field.options.currency ?? "GBP");
  return v as Scalar;
}
