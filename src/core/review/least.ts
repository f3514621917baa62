/** Which role allows the least: what somebody is given where nobody chose yet. */
import type { Rules } from "../access/rules";

/** Whoever pays or leads does more than any grant says. */
const ABOVE_GRANTS = 1_000_000;
/** What may be done weighs more than how much of a record is read. */
const AN_ACTION = 1_000;

/**
 * The same roles, the one that allows least first; those that allow alike stay in their order. Counted are actions, acts and fields of all
 * grants of the role and of those that it includes. `more` are roles with powers beside their grants.
 */
export function leastFirst<R extends { readonly id: string }>(
  { roles, grants, billing }: Pick<Rules, "roles" | "grants" | "billing">,
  among: readonly R[],
  more: readonly string[] = [],
): R[] {
  const byId = new Map(roles.map((r) => [r.id, r]));
  const withIncluded = (id: string, seen = new Set<string>()): Set<string> => {
    if (seen.has(id)) return seen;
    seen.add(id);
    for (const next of byId.get(id)?.includes ?? []) withIncluded(next, seen);
    return seen;
  };
  const above = new Set([...(billing?.payers ?? []), ...more]);
  const reach = (id: string): number => {
    const held = withIncluded(id);
    const counted = grants.filter((g) => g.roles.some((r) => held.has(r)));
    return counted.reduce(
      (n, g) => n + AN_ACTION * (g.actions.length + (g.acts?.length ?? 0)) + g.fields.length + g.changes.length,
      [...held].some((r) => above.has(r)) ? ABOVE_GRANTS : 0,
    );
  };
  const reaches = new Map(among.map((r) => [r.id, reach(r.id)]));
  return [...among].sort((a, b) => reaches.get(a.id)! - reaches.get(b.id)!);
}
