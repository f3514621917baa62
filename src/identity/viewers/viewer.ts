/** Makes viewers: the one place outside tests that may. */

import { PAYER } from "@/core/access/book-grants";
import { viewerFrom } from "@/core/access/who/make-viewer";
import type { Owner, Viewer, ViewerFacts } from "@/core/access/who/viewer";
import type { Definition } from "@/core/definition/definition";
import { dateIn } from "@/core/time/relative";
import { type Paid as PaidFor, type Standing, standingFrom, standingOf } from "@/data/billing/standing";
import { published } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { type Acting as ActingFacts, actingOf } from "@/data/people/acting";
import { companyFacts } from "@/data/tables/company-facts";

interface Acting {
  readonly person: NonNullable<Viewer["person"]>;
  readonly membership: { readonly id: string; readonly roles: readonly string[] } | undefined;
  readonly company: Viewer["company"];
  readonly now: number;
  readonly mode: Viewer["mode"];
}

type Paid = Pick<Standing, "features" | "state" | "bought">;

/** Of a person and what they act in; `paidBy` tells what a company has by its plan. */
export function actingViewer(definition: Definition, a: Acting, paidBy: (company: string, person: string) => Paid): Viewer {
  const paid = a.company && paidBy(a.company.id, a.person.id);
  // The agency's own people need no plan; without a membership there is nothing to have.
  const features = paid ? paid.features : new Set(a.membership ? definition.features.map((f) => f.id) : []);
  return viewerFrom({
    kind: "person",
    person: a.person,
    company: a.company,
    membershipId: a.membership?.id ?? null,
    roles: a.membership ? rolesWhile(definition, a.membership.roles, paid) : [],
    features,
    bought: paid?.bought ?? [],
    now: a.now,
    timeZone: definition.portal.timeZone,
    mode: a.mode,
  });
}

/**
 * Where a plan comes first, everybody of a company without one is the unpaid role alone, whatever roles they hold (settled ahead, 15). Who
 * could pay still can: that opens the way to pay and the company's own invoices, and nothing else.
 */
function rolesWhile({ billing, roles }: Definition, held: readonly string[], paid: Paid | null): readonly string[] {
  if (!billing.planFirst || !paid || (paid.state !== "none" && paid.state !== "lapsed" && paid.state !== "paused")) return held;
  const pays = held.some((id) => reaches(roles, id, billing.payers));
  return [...(billing.unpaid === null ? [] : [billing.unpaid]), ...(pays ? [PAYER] : [])];
}

/** Whether a role is one of these, or includes one. */
function reaches(roles: Definition["roles"], id: string, these: readonly string[], seen = new Set<string>()): boolean {
  if (these.includes(id)) return true;
  if (seen.has(id)) return false;
  seen.add(id);
  return (roles.find((r) => r.id === id)?.includes ?? []).some((next) => reaches(roles, next, these, seen));
}

/** A person acting in one membership; without a membership they hold no role anywhere. */
export function personViewer(
  file: PortalFile,
  personId: string,
  membershipId: string | null,
  now: number,
  mode: Viewer["mode"] = "live",
): Viewer | undefined {
  const acting = actingOf(file, personId);
  return acting && viewerOf(file, acting, membershipId, now, mode);
}

/** The same of somebody who has been looked up already. */
export function viewerOf(
  file: PortalFile,
  { person, memberships }: ActingFacts,
  membershipId: string | null,
  now: number,
  mode: Viewer["mode"] = "live",
): Viewer {
  const { definition } = published(file);
  const membership = memberships.find((m) => m.id === membershipId) ?? memberships[0];
  const today = dateIn(now, definition.portal.timeZone);
  return actingViewer(definition, { person, membership, company: membership?.company ?? null, now, mode }, () =>
    standingFrom(definition, membership?.paid ?? NOTHING, today, person.id),
  );
}

/** The same viewer as they will be once these records are bought for them: to tell what a purchase would open before it is made. */
export const ifBought = (viewer: Viewer, records: readonly string[]): Viewer => {
  const { worked: _, ...facts } = viewer;
  return viewerFrom({ ...facts, bought: [...viewer.bought, ...records] } as ViewerFacts);
};

type KeyFacts = NonNullable<ViewerFacts["key"]>;

/** A program with a key of this person's: what they may do in that membership, as far as the key goes. Undefined where they cannot sign in. */
export function personKeyViewer(file: PortalFile, key: KeyFacts, personId: string, membershipId: string, now: number): Viewer | undefined {
  const acting = actingOf(file, personId);
  if (acting?.person.status !== "active" || !acting.memberships.some((m) => m.id === membershipId)) return undefined;
  const { worked: _, ...facts } = viewerOf(file, acting, membershipId, now);
  return viewerFrom({ ...facts, key } as ViewerFacts);
}

/**
 * A program with a key of a role, which is nobody: a role of the agency's, or one of clients in a company. Undefined where role or company
 * are gone, or do not go together any more.
 */
export function roleKeyViewer(file: PortalFile, key: KeyFacts, roleId: string, companyId: string | null, now: number): Viewer | undefined {
  const { definition, policy } = published(file);
  const role = policy.role(roleId);
  const company = companyId === null ? null : (companyFacts(file, companyId) ?? null);
  const side = companyId === null ? "agency" : "client";
  if (role?.side !== side || (side === "client" && !company)) return undefined;
  if (role.companyId && role.companyId !== companyId) return undefined;
  const paid = company && standingOf(file, definition, company.id, dateIn(now, definition.portal.timeZone));
  return viewerFrom({
    kind: "key",
    person: null,
    key,
    company,
    membershipId: null,
    roles: rolesWhile(definition, [roleId], paid).filter((id) => id !== PAYER),
    features: paid ? paid.features : new Set(definition.features.map((f) => f.id)),
    bought: paid?.bought ?? [],
    now,
    timeZone: definition.portal.timeZone,
    mode: "live",
  });
}

/** Whoever is not signed in. */
export const visitorViewer = (file: PortalFile, now: number): Viewer =>
  viewerFrom({
    kind: "visitor",
    person: null,
    company: null,
    membershipId: null,
    roles: [],
    features: new Set(),
    bought: [],
    now,
    timeZone: published(file).definition.portal.timeZone,
    mode: "live",
  });

/** A member of staff in the back office, who reads and writes all that their right opens. */
export const ownerViewer = (staff: { id: string; name: string }, now: number, timeZone = "UTC"): Owner =>
  viewerFrom({
    kind: "owner",
    person: { id: staff.id, name: staff.name, status: "active", values: {} },
    company: null,
    membershipId: null,
    roles: [],
    features: new Set(),
    bought: [],
    now,
    timeZone,
    mode: "live",
  }) as Owner;

/** In another thread of this process, which was handed the facts by the one that knew who asks. */
export const sameViewer = (facts: ViewerFacts): Viewer => viewerFrom(facts);

const NOTHING: PaidFor = { row: undefined, opened: [] };
