/** Rules that follow a table whose records became people or companies. Pure: live version and draft go through it alike. */
import type { Condition, Test } from "../schema/condition";
import type { Operator } from "../schema/operators";
import type { Definition } from "./definition";

export interface Moved {
  /** Ids of tables. */
  readonly from: string;
  readonly to: string;
  /** Fields in whose place another stands now. Those not named keep their ids. */
  readonly fields: ReadonlyMap<string, string>;
  /** Of these, fields that pointed to one record, where the other points to several. */
  readonly many: ReadonlySet<string>;
  /** Fields of the new table that nobody sets through a grant. */
  readonly unset: ReadonlySet<string>;
}

const AMONG_MANY: Partial<Record<Operator, Operator>> = { is: "has-any", "any-of": "has-any", "is-not": "has-none", "none-of": "has-none" };

/** Words and numbers that somebody wrote are left as they are: only what names a table or a field follows. */
function renamed<T>(v: T, m: Moved): T {
  if (typeof v === "string") return (v === m.from ? m.to : (m.fields.get(v) ?? v)) as T;
  if (Array.isArray(v)) return v.map((x) => renamed(x, m)) as T;
  if (v === null || typeof v !== "object") return v;
  if ((v as { kind?: unknown }).kind === "literal") return v;
  return Object.fromEntries(Object.entries(v).map(([k, x]) => [renamed(k, m), renamed(x, m)])) as T;
}

function condition(c: Condition | null, m: Moved): Condition | null {
  if (!c) return null;
  if (c.kind === "not") return { kind: "not", of: condition(c.of, m)! };
  if (c.kind !== "test") return { kind: c.kind, of: c.of.map((x) => condition(x, m)!) };
  const among = m.many.has(c.path.at(-1)!) ? AMONG_MANY[c.operator] : undefined;
  return renamed<Test>(among ? { ...c, operator: among } : c, m);
}

const unlike = (list: readonly string[]): string[] => [...new Set(list)];

/**
 * Grants go on opening what they opened, within the wall of where the records are now. Adding and removing do not follow: people and
 * companies come by invitation or by joining, and go by the agency's hand.
 */
export function movedDefinition(d: Definition, m: Moved): Definition {
  const grants = d.grants.map((g) => {
    const next = renamed({ ...g, filter: null }, m);
    const filter = condition(g.filter, m);
    if (g.table !== m.from) return { ...next, filter };
    const actions = g.actions.filter((a) => a !== "add" && a !== "remove");
    const changes = unlike(next.changes).filter((f) => !m.unset.has(f));
    return { ...next, filter, actions, fields: unlike(next.fields), changes };
  });
  const walls = Object.fromEntries(Object.entries(d.walls).filter(([table]) => table !== m.from));
  return {
    ...d,
    walls: renamed(walls, m),
    grants: grants.filter((g) => g.actions.length + (g.acts?.length ?? 0) > 0),
    acts: renamed(d.acts, m),
    safeguards: renamed(d.safeguards, m),
    plans: d.plans.map((p) => ({ ...p, allowances: p.allowances.filter((a) => a.table !== m.from) })),
  };
}

/** What of the rules cannot follow, each as words. */
export const movedBreaks = (d: Definition, from: string): string[] => [
  ...d.acts.filter((a) => a.table === from && a.on === "add").map((a) => `the act ${a.name} adds such records`),
  ...d.plans.filter((p) => p.allowances.some((a) => a.table === from)).map((p) => `the plan ${p.name} counts such records`),
];
