/** Texts that Elkhorn makes itself: numbers in order, and readable addresses. */
import { slugWords } from "../../address/slug";
import { ok } from "../../result";
import { type FieldKind, type Having, sole } from "./kind";
import { cleanText, text } from "./text";

type Serial = Having<"prefix" | "digits" | "perCompany">;

/** INV-0001, INV-0002 and so on; of the whole table, or of each company. */
export const serial: FieldKind<Serial> = {
  ...(text as unknown as FieldKind<Serial>),
  name: "Number in order",
  options: (o) => ({ prefix: o.prefix ?? "", digits: Math.min(12, Math.max(1, o.digits ?? 4)), perCompany: o.perCompany ?? false }),
};

/** A number in order as it is shown: its prefix, and zeros before it up to so many digits. */
export const serialText = (n: number, o: { readonly prefix: string; readonly digits: number }): string =>
  `${o.prefix}${String(n).padStart(o.digits, "0")}`;
/** Which number a text is, or null where it is of another making. */
export function serialNumber(t: string, o: { readonly prefix: string }): number | null {
  const digits = t.startsWith(o.prefix) ? t.slice(o.prefix.length) : "";
  return /^\d{1,12}$/.test(digits) ? Number(digits) : null;
}

type Readable = Having<"madeFrom">;

/** What a record is called in addresses: made from another of its fields. */
export const readableAddress: FieldKind<Readable> = {
  ...(text as unknown as FieldKind<Readable>),
  name: "Readable address",
  options: (o) => ({ madeFrom: o.madeFrom ?? "" }),
  parse: (texts) => ok(slugWords(cleanText(sole(texts))) || null),
};
