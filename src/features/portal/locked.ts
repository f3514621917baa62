/**
 * Entries that another plan would open: a record whose name an ordinary grant opens, and more of it a grant that needs a feature. Only what
 * such a grant opens of every record counts, so that a lock tells nothing of what stands in one.
 */
import { isOffered } from "@/core/billing/prices";
import type { SeenRecord } from "@/core/records";
import type { Table } from "@/core/schema/types";
import type { PortalRequest } from "@/identity/request";
import { localeOf } from "./queries";

export interface Lock {
  /** Plans that open it, joined as the locale does. */
  readonly plans: string;
  /** Fields that they open. */
  readonly fields: ReadonlySet<string>;
}

/** Null where no plan that is offered opens more of the table. */
export function lockOf(r: PortalRequest, table: Table): Lock | null {
  const { definition, policy } = r.published;
  const held = r.memberships.find((m) => m.id === r.viewer.membershipId)?.roles ?? r.viewer.roles;
  const mine = new Set([...held, ...r.viewer.roles].flatMap((x) => [...policy.closure(x)]));
  // Whoever is signed out is shown what anybody of a company could have.
  const counts = (role: string): boolean => (r.viewer.kind === "visitor" ? policy.role(role)?.side === "client" : mine.has(role));
  const grants = definition.grants.filter(
    (g) => g.table === table.id && g.feature && g.filter === null && g.actions.includes("see") && g.roles.some(counts),
  );
  const features = new Set(grants.flatMap((g) => g.feature ?? []));
  const company = r.viewer.company?.id ?? null;
  const plans = definition.plans.filter((p) => isOffered(p, company) && p.features.some((f) => features.has(f)));
  if (plans.length === 0) return null;
  const names = new Intl.ListFormat(localeOf(r).locale, { type: "disjunction" }).format(plans.map((p) => p.name));
  return { plans: names, fields: new Set(grants.flatMap((g) => g.fields)) };
}

export const isLocked = (lock: Lock | null, x: SeenRecord): lock is Lock => lock !== null && [...lock.fields].some((f) => !(f in x.fields));
