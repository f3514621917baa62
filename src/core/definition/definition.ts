/**
 * A portal's definition, assembled from the parts that its rooms own. One document with a draft and numbered published versions; read
 * here, from whatever format it was written in, and nowhere else.
 */
import { err, ok, type Result } from "../result";
import type { Schema } from "../schema/types";
import { formatOf, keysOf, migrated, type Part } from "./part";
import { accessPart } from "./parts/access";
import { brandPart } from "./parts/brand";
import { pagesPart } from "./parts/pages";
import { plansPart } from "./parts/plans";
import { portalPart } from "./parts/portal";

export const PARTS = { portal: portalPart, access: accessPart, plans: plansPart, brand: brandPart, pages: pagesPart } as const;
export type PartName = keyof typeof PARTS;
export const PART_NAMES = Object.keys(PARTS) as PartName[];
const parts = Object.entries(PARTS) as unknown as [PartName, Part<never>][];

type ShapeOf<P> = P extends Part<infer T> ? T : never;
export type Definition = Omit<ShapeOf<(typeof PARTS)["access"]>, "features"> &
  ShapeOf<(typeof PARTS)["portal"]> &
  ShapeOf<(typeof PARTS)["plans"]> &
  ShapeOf<(typeof PARTS)["brand"]> &
  ShapeOf<(typeof PARTS)["pages"]>;
export type { Plan } from "./parts/plans";

export type PartValue = Readonly<Record<string, unknown>>;

/** What a definition holds of one part. */
export function partOf(d: Definition, name: PartName): PartValue {
  return Object.fromEntries(keysOf(PARTS[name] as unknown as Part<never>).map((k) => [k, d[k as keyof Definition]]));
}

/** A part as it is stored: with the number of its format. */
export const writePart = (name: PartName, value: PartValue): string =>
  JSON.stringify({ format: formatOf(PARTS[name] as unknown as Part<never>), ...value });

/** The messages say what is wrong with it; throws where it was written by a newer Elkhorn. */
export function readPart(name: PartName, stored: PartValue): Result<PartValue, string[]> {
  const part = PARTS[name] as unknown as Part<never>;
  const { format = 1, ...rest } = stored as { format?: number };
  const parsed = part.shape.safeParse(migrated(part, rest, format));
  return parsed.success ? ok(parsed.data as PartValue) : err(parsed.error.issues.map((i) => i.message));
}

/** The whole, as it is stored: each part under its name. */
export const writeDefinition = (d: Definition): string =>
  JSON.stringify(Object.fromEntries(PART_NAMES.map((name) => [name, JSON.parse(writePart(name, partOf(d, name)))])));

/** From what is stored, in any format that ever was: the first one had no parts. */
export function readDefinition(text: string): Result<Definition, string[]> {
  const body = JSON.parse(text) as Record<string, unknown>;
  const whole: Record<string, unknown> = {};
  const messages: string[] = [];
  for (const [name, part] of parts) {
    const undivided = Array.isArray(body.roles);
    const stored = undivided
      ? Object.fromEntries(keysOf(part).flatMap((k) => (k in body ? [[k, body[k]]] : [])))
      : ((body[name] as PartValue | undefined) ?? {}); // a part that came later
    const read = readPart(name, stored);
    if (read.ok) Object.assign(whole, read.value);
    else messages.push(...read.error);
  }
  return messages.length > 0 ? err(messages) : ok(whole as unknown as Definition);
}

/** Checks a definition that an edit made, as though it had been stored and read. */
export function checkDefinition(d: Definition): Result<Definition, string[]> {
  const known = new Set(parts.flatMap(([, part]) => keysOf(part)));
  const unknown = Object.keys(d).filter((k) => !known.has(k));
  if (unknown.length > 0) return err(unknown.map((k) => `A definition has no ${k}.`));
  return readDefinition(writeDefinition(d));
}

/** What would make a definition wrong for this schema, each as a sentence. Publishing waits until there is none. */
export const definitionProblems = (d: Definition, schema: Schema): string[] =>
  parts.flatMap(([, part]) => (part as unknown as Part<Definition>).problems(d, schema));
