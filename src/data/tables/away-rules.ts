/**
 * What the rules said of a table or field that is put away, and how it comes back with it. Kept beside the table or field as it was, for the
 * published rules and for the draft.
 */
import { z } from "zod";
import type { Definition } from "@/core/definition/definition";

type Grant = Definition["grants"][number];
const LISTS = ["fields", "changes", "namesOnly"] as const;

/** For each grant that lists a field: the field's place in each of the grant's lists. */
const listed = z.record(z.string(), z.partialRecord(z.enum(LISTS), z.number().int()));
export type Listed = z.infer<typeof listed>;

/** For each grant that lists the field, its place in each of the grant's lists, so that it can be put back there. */
export function listedIn(d: Definition, field: string): Listed {
  const found: Listed = {};
  for (const g of d.grants)
    for (const list of LISTS) {
      const at = g[list]?.indexOf(field) ?? -1;
      if (at >= 0) (found[g.id] ??= {})[list] = at;
    }
  return found;
}

/** Listed again by those of the grants that are still there. */
export const listAgain = (d: Definition, field: string, was: Listed): Definition => ({
  ...d,
  grants: d.grants.map((g) => {
    const places = was[g.id];
    if (!places) return g;
    const again = LISTS.flatMap((list): [string, string[]][] => {
      const at = places[list];
      const now = g[list] ?? [];
      return at === undefined || now.includes(field) ? [] : [[list, now.toSpliced(at, 0, field)]];
    });
    return { ...g, ...Object.fromEntries(again) };
  }),
});

/** Rules kept for a table that is put away: its wall, grants and acts, as in the definition. */
const ofTable = z.object({ wall: z.unknown().nullable(), grants: z.array(z.unknown()), acts: z.array(z.unknown()) });

/** A table's wall, grants and acts, to be kept while it is put away. */
export const rulesOf = (d: Definition, table: string): z.infer<typeof ofTable> => ({
  wall: d.walls[table] ?? null,
  grants: d.grants.filter((g) => g.table === table),
  acts: d.acts.filter((a) => a.table === table),
});

/**
 * With the rules that the table had. Roles, features and fields that are gone meanwhile are left out of them; a grant of nobody does not come
 * back, nor one whose feature is gone: it would open more than it did.
 */
export function rulesAgain(d: Definition, table: string, was: z.infer<typeof ofTable>, fields: ReadonlySet<string>): Definition {
  const roles = new Set(d.roles.map((r) => r.id));
  const features = new Set(d.features.map((f) => f.id));
  const there = new Set(d.grants.map((g) => g.id));
  const acts = (was.acts as Definition["acts"]).filter((a) => !d.acts.some((x) => x.id === a.id));
  const known = new Set([...d.acts, ...acts].map((a) => a.id));
  const grants = (was.grants as Grant[])
    .filter((g) => !there.has(g.id) && (!g.feature || features.has(g.feature)))
    .map((g) => ({
      ...g,
      roles: g.roles.filter((r) => roles.has(r)),
      fields: g.fields.filter((f) => fields.has(f)),
      changes: g.changes.filter((f) => fields.has(f)),
      ...(g.namesOnly ? { namesOnly: g.namesOnly.filter((f) => fields.has(f)) } : {}),
      ...(g.acts ? { acts: g.acts.filter((a) => known.has(a)) } : {}),
    }))
    .filter((g) => g.roles.length > 0);
  return {
    ...d,
    walls: was.wall && !d.walls[table] ? { ...d.walls, [table]: was.wall as Definition["walls"][string] } : d.walls,
    grants: [...d.grants, ...grants],
    acts: [...d.acts, ...acts],
  };
}

const kept = z.object({
  /** Of the published rules once it was put away: the same one still is the undo of that alone. */
  version: z.number().int(),
  live: z.union([z.object({ field: listed }), z.object({ table: ofTable })]),
  draft: z.union([z.object({ field: listed }), z.object({ table: ofTable })]),
});
export type AwayRules = z.infer<typeof kept>;

/** Null for what was put away before rules were kept. */
export function readAwayRules(stored: string | null): AwayRules | null {
  const parsed = stored === null ? null : kept.safeParse(JSON.parse(stored));
  return parsed?.success ? parsed.data : null;
}

/** The rules with those put back that were kept when the table or field `id` was archived. */
export function withAwayRules(d: Definition, id: string, was: AwayRules["live"], fields: ReadonlySet<string>): Definition {
  return "field" in was ? listAgain(d, id, was.field) : rulesAgain(d, id, was.table, fields);
}

/** How many grants would be as they were. */
export const grantsIn = (was: AwayRules["live"]): number => ("field" in was ? Object.keys(was.field).length : was.table.grants.length);
