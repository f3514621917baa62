/**
 * A room's part of the definition: its shape, the number of its format with the way from every older one, what would be wrong with it
 * for a schema, and the things in it that two people may change side by side.
 */
import type { z } from "zod";
import type { Schema } from "../schema/types";

export interface Part<T extends object> {
  readonly name: string;
  readonly shape: z.ZodObject;
  /** The format that is written now; `migrations[n]` leads from format n + 1 to n + 2. */
  readonly migrations: readonly ((old: Readonly<Record<string, unknown>>) => Record<string, unknown>)[];
  /** What would make the part wrong, each as a sentence. `whole` has the other parts beside it. */
  problems(whole: T, schema: Schema): string[];
}

export const formatOf = (part: Part<never>): number => part.migrations.length + 1;
export const keysOf = (part: Part<never>): string[] => Object.keys(part.shape.shape);

/** What stood in an older format as it stands now; throws where the format is newer than this Elkhorn. */
export function migrated(part: Part<never>, stored: Readonly<Record<string, unknown>>, format: number): Record<string, unknown> {
  if (format > formatOf(part))
    throw new Error(`The ${part.name} was written by a newer Elkhorn (format ${format}). Update Elkhorn to open it.`);
  return part.migrations.slice(format - 1).reduce<Record<string, unknown>>((old, next) => next(old), { ...stored });
}

/**
 * The things of a value, each by a name: items of lists by their ids, entries of records by their keys, the rest by the key itself.
 * The order of a list is a thing of its own.
 */
export function thingsOf(value: Readonly<Record<string, unknown>>): Map<string, string> {
  const things = new Map<string, string>();
  for (const [key, v] of Object.entries(value)) {
    const items = itemsOf(v);
    if (!items) things.set(key, JSON.stringify(v));
    else {
      for (const [id, item] of items) things.set(`${key}/${id}`, JSON.stringify(item));
      if (Array.isArray(v)) things.set(`${key} in order`, items.map(([id]) => id).join());
    }
  }
  return things;
}

function itemsOf(v: unknown): [string, unknown][] | null {
  if (Array.isArray(v)) return v.every((x) => typeof x === "object" && x && "id" in x) ? v.map((x) => [String(x.id), x]) : null;
  return typeof v === "object" && v !== null && Object.values(v).every((x) => typeof x === "object") ? Object.entries(v) : null;
}

/** Names of the things that differ. An order differs only where what both have stands otherwise: adding and taking away moves nothing. */
export function differing(a: Readonly<Record<string, unknown>>, b: Readonly<Record<string, unknown>>): Set<string> {
  const [was, is] = [thingsOf(a), thingsOf(b)];
  const found = new Set<string>();
  for (const name of new Set([...was.keys(), ...is.keys()])) {
    const [x, y] = [was.get(name), is.get(name)];
    if (x === y) continue;
    if (name.endsWith(" in order") && x !== undefined && y !== undefined) {
      const [xs, ys] = [x.split(","), y.split(",")];
      if (xs.filter((id) => ys.includes(id)).join() === ys.filter((id) => xs.includes(id)).join()) continue;
    }
    found.add(name);
  }
  return found;
}

/** `mine` with what `theirs` changed since `base`: only called where the two changed different things. */
export function merged(
  base: Readonly<Record<string, unknown>>,
  mine: Readonly<Record<string, unknown>>,
  theirs: Readonly<Record<string, unknown>>,
): Record<string, unknown> {
  return Object.fromEntries(Object.keys(mine).map((key) => [key, mergedValue(base[key], mine[key], theirs[key])]));
}

function mergedValue(base: unknown, mine: unknown, theirs: unknown): unknown {
  const [b, m, t] = [itemsOf(base), itemsOf(mine), itemsOf(theirs)];
  if (!b || !m || !t) return JSON.stringify(mine) === JSON.stringify(base) ? theirs : mine;
  const [was, ours] = [new Map(b), new Map(m)];
  const same = (x: unknown, y: unknown): boolean => JSON.stringify(x) === JSON.stringify(y);
  const kept = t.flatMap(([id, item]): [string, unknown][] => {
    if (!was.has(id)) return [[id, item]];
    if (!ours.has(id)) return []; // taken away here
    return [[id, same(ours.get(id), was.get(id)) ? item : ours.get(id)]];
  });
  const there = new Set(kept.map(([id]) => id));
  const added = m.filter(([id]) => !was.has(id) && !there.has(id));
  const all = [...kept, ...added];
  return Array.isArray(mine) ? all.map(([, item]) => item) : Object.fromEntries(all);
}
