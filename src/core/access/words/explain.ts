/** The same decision, told step by step with the values that decided. Built on traces, not on `decide`, so each checks the other. */
import { testsOf } from "../../schema/condition";
import { needsSeeing } from "../decide";
import type { Reason } from "../decision";
import type { Policy } from "../policy";
import type { Row, World } from "../row";
import { actIdOf, type Doing, type Grant } from "../rules";
import { activeRoles, scope } from "../scope";
import { failures, type Trace, trace } from "../trace";
import { sideOf, type Viewer } from "../who/viewer";

export type Step =
  | { step: "account"; holds: boolean; status: string }
  | { step: "membership"; holds: boolean; company: string | null; roles: readonly string[] }
  | { step: "wall"; holds: boolean; kind: string; found: string | null }
  /** `withheld`: the filter also tests what the one who is told does not read, and whether that held is not said. */
  | { step: "grant"; holds: boolean; grant: string; failed: readonly Trace[]; withheld?: boolean }
  | { step: "set-aside"; holds: false; reason: Reason }
  | { step: "no-grant"; holds: false; action: Doing; table: string }
  /** A grant would let them, but what is not seen cannot be changed, removed or exported. */
  | { step: "unseen"; holds: false; action: Doing }
  | { step: "owner"; holds: true };

export interface Explanation {
  readonly outcome: "allowed" | "refused";
  readonly steps: readonly Step[];
  /** Field ids read on this record (or set, for add and change) or, without a record, possibly so. */
  readonly fields: readonly string[];
  /** For each of them the grants that list it; none for the owner. */
  readonly by: Readonly<Record<string, readonly string[]>>;
}

/** What is read, or may be set; an act sets its own fields and no other. */
function listedBy(policy: Policy, grant: Grant, action: Doing): readonly string[] {
  const act = policy.act(actIdOf(action));
  if (act) return act.sets.map((s) => s.field);
  return action === "add" || action === "change" ? grant.changes : grant.fields;
}

/**
 * Each step of why a viewer may do something to a row, or may not: account, membership, wall, grants. Without a row, whether they may to
 * any.
 */
export function explain(policy: Policy, viewer: Viewer, action: Doing, table: string, row: Row | null, world: World): Explanation {
  const all = policy.schema.table(table).fields.map((f) => f.id);
  const side = sideOf(viewer);
  if (side === "owner") return { outcome: "allowed", steps: [{ step: "owner", holds: true }], fields: all, by: {} };

  const steps: Step[] = [];
  const status = viewer.person?.status ?? "signed out";
  const accountHolds = !viewer.person || viewer.person.status === "active";
  steps.push({ step: "account", holds: accountHolds, status });
  const roles = [...activeRoles(policy, viewer)];
  steps.push({ step: "membership", holds: roles.length > 0, company: viewer.company?.name ?? null, roles });

  const s = scope(policy, viewer, table, action);
  const wallHolds = row ? trace(s.wall, row, world, policy.schema).holds : s.wall.kind !== "never";
  if (accountHolds) steps.push({ step: "wall", holds: wallHolds, kind: policy.wall(table).kind, found: row?.companyId ?? null });

  const by: Record<string, string[]> = {};
  let granted = false;
  for (const g of s.grants) {
    const t = row ? trace(g.predicate, row, world, policy.schema) : null;
    const holds = t ? t.holds : true;
    if (holds && wallHolds) {
      granted = true;
      for (const f of listedBy(policy, g.grant, action)) (by[f] ??= []).push(g.grant.id);
    }
    steps.push({ step: "grant", holds, grant: g.grant.id, failed: t ? failures(t) : [] });
  }
  for (const reason of s.reasons) {
    if (reason.code === "feature" || reason.code === "not-yet" || reason.code === "over")
      steps.push({ step: "set-aside", holds: false, reason });
  }
  if (accountHolds && s.grants.length === 0 && s.reasons.every((r) => r.code === "no-grant")) {
    steps.push({ step: "no-grant", holds: false, action, table });
  }
  const own = accountHolds && wallHolds && granted;
  // What is done to a record needs it seen; what is taken along of it needs each field seen too.
  const see = row && own && needsSeeing(policy, action) ? explain(policy, viewer, "see", table, row, world) : null;
  if (see?.outcome === "refused") steps.push({ step: "unseen", holds: false, action });
  const open = own && see?.outcome !== "refused";
  const listed = all.filter((id) => open && by[id] && (action !== "export" || !see || see.fields.includes(id)));
  return {
    outcome: open ? "allowed" : "refused",
    steps,
    fields: listed,
    by: Object.fromEntries(listed.map((id) => [id, by[id]!])),
  };
}

/**
 * The explanation as its own subject may hear it: of a grant's tests only those that lie whole within what they read. Which of
 * the others failed, that one is empty, or that a forbidden one held would each tell of a value that is hidden from them.
 */
export function forSubject(policy: Policy, e: Explanation, reads: (path: readonly string[]) => boolean): Explanation {
  const told = (t: Trace): boolean => (t.parts.length > 0 ? t.parts.every(told) : reads(t.path));
  const steps = e.steps.map((s): Step => {
    if (s.step !== "grant" || s.holds) return s;
    const filter = policy.rules.grants.find((g) => g.id === s.grant)?.filter ?? null;
    return { ...s, failed: s.failed.filter(told), withheld: testsOf(filter).some((t) => !reads(t.path)) };
  });
  return { ...e, steps };
}
