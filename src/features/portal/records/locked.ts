/**
 * Entries that another plan would open: a record whose name an ordinary grant opens, and more of it a grant that needs a feature. Only what
 * such a grant opens of every record counts, so that a lock tells nothing of what stands in one.
 */
import { maysPay } from "@/core/access/payer";
import { isOffered } from "@/core/prices/prices";
import type { SeenRecord } from "@/core/schema/seen";
import type { Table } from "@/core/schema/types";
import { formatMoney } from "@/core/text/format";
import { providerRow } from "@/data/billing/buyers";
import type { PortalRequest } from "@/identity/requests/request";
import { localeOf } from "../queries";

export interface Lock {
  /** Plans that open it, joined as the locale does. */
  readonly plans: string;
  /** Fields that they open. */
  readonly fields: ReadonlySet<string>;
}

/** The offer to unlock more of the table; null where no offered plan opens more. */
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

/** Where one record of the table can be bought by itself: what it costs, and the way; null where it cannot, or not by whoever looks. */
export function aloneAt(r: PortalRequest, table: Table): { readonly price: string; readonly href: (record: string) => string } | null {
  const { definition, policy } = r.published;
  const offer = definition.offers.find((o) => !o.retired && o.opens.kind === "record" && o.opens.table === table.id);
  if (!offer || providerRow(r.file) === undefined) return null;
  const pays = maysPay(policy, r.viewer);
  const own = !pays && r.viewer.kind === "person" && offer.buyer !== "company";
  if (!pays && !own && r.viewer.kind !== "visitor") return null;
  const { currency, locale } = definition.portal;
  const way = `${r.base}/-/buy?offer=${encodeURIComponent(offer.id)}${own ? "&own=1" : ""}`;
  return {
    price: formatMoney(offer.price, currency, locale),
    href: (record) => `${way}&record=${encodeURIComponent(record)}&to=${encodeURIComponent(r.path)}`,
  };
}
