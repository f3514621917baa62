/** Addresses made from fields of a record. Values are encoded whole, so none of them can become a scheme, a host or another path. */
import { z } from "zod";

/** Words as they stand, and fields by id. */
export const addressTemplate = z
  .array(z.union([z.string().max(500), z.strictObject({ field: z.string().max(64) })]))
  .min(1)
  .max(30)
  .refine((parts) => typeof parts[0] === "string" && /^https:\/\/[a-z0-9.-]+(:\d+)?([/?#]|$)/i.test(parts[0]) && wholeHost(parts), {
    message: "An address begins with https:// and a whole name of a host; fields may come after that.",
  });
export type AddressTemplate = z.infer<typeof addressTemplate>;

/** No field follows right after the host: "https://example.com{x}" would let a record choose another host. */
const wholeHost = (parts: readonly (string | { field: string })[]): boolean =>
  parts.length === 1 || /^https:\/\/[^/?#]+[/?#]/i.test(String(parts[0]));

/** Every sign but RFC 3986's unreserved ones (section 2.3) is percent-encoded from its UTF-8. */
export const percentEncoded = (value: string): string =>
  encodeURIComponent(value.toWellFormed()).replace(/[!'()*]/g, (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`);

/** Null where what comes out is no address on the web after all. */
export function addressFrom(template: AddressTemplate, textOf: (field: string) => string): string | null {
  const text = template.map((p) => (typeof p === "string" ? p : percentEncoded(textOf(p.field)))).join("");
  if (!URL.canParse(text)) return null;
  const { protocol, username, password } = new URL(text);
  return protocol === "https:" && username === "" && password === "" ? text : null;
}

/** As an owner writes it: "https://maps.example/?q={Map reference}". Null where a name in braces is no field. */
export function templateFromText(text: string, byName: (name: string) => string | undefined): AddressTemplate | null {
  const parts: AddressTemplate = [];
  for (const [i, piece] of text.split(/\{([^{}]+)\}/).entries()) {
    if (i % 2 === 0) {
      if (piece !== "") parts.push(piece);
      continue;
    }
    const field = byName(piece.trim());
    if (!field) return null;
    parts.push({ field });
  }
  return parts;
}

/** A template for readable addresses as its owner writes it, with the fields by name. */
export const templateToText = (t: AddressTemplate, nameOf: (field: string) => string): string =>
  t.map((p) => (typeof p === "string" ? p : `{${nameOf(p.field)}}`)).join("");
