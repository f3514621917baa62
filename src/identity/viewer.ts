/** Makes viewers: the one place outside tests that may. */

import { viewerFrom } from "@/core/access/make-viewer";
import type { Owner, Viewer, ViewerFacts } from "@/core/access/viewer";
import type { Definition } from "@/core/definition/definition";
import { dateIn } from "@/core/time/relative";
import { type Standing, standingFrom } from "@/data/billing/standing";
import { published } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { type Acting as ActingFacts, actingOf } from "@/data/people/acting";

interface Acting {
  readonly person: NonNullable<Viewer["person"]>;
  readonly membership: { readonly id: string; readonly roles: readonly string[] } | undefined;
  readonly company: Viewer["company"];
  readonly now: number;
  readonly mode: Viewer["mode"];
}

type Paid = Pick<Standing, "features" | "state">;

/** Of a person and what they act in; `paidBy` tells what a company has by its plan. */
export function actingViewer(definition: Definition, a: Acting, paidBy: (company: string) => Paid): Viewer {
  const paid = a.company && paidBy(a.company.id);
  // The agency's own people need no plan; without a membership there is nothing to have.
  const features = paid ? paid.features : new Set(a.membership ? definition.features.map((f) => f.id) : []);
  return viewerFrom({
    kind: "person",
    person: a.person,
    company: a.company,
    membershipId: a.membership?.id ?? null,
    roles: a.membership ? rolesWhile(definition, a.membership.roles, paid) : [],
    features,
    now: a.now,
    timeZone: definition.portal.timeZone,
    mode: a.mode,
  });
}

/** Where a plan comes first, everybody of a company without one is the unpaid role alone, whatever roles they hold (settled ahead, 15). */
function rolesWhile({ billing }: Definition, held: readonly string[], paid: Paid | null): readonly string[] {
  if (!billing.planFirst || !paid || (paid.state !== "none" && paid.state !== "lapsed")) return held;
  return billing.unpaid === null ? [] : [billing.unpaid];
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
    standingFrom(definition, membership?.paid, today),
  );
}

export const visitorViewer = (file: PortalFile, now: number): Viewer =>
  viewerFrom({
    kind: "visitor",
    person: null,
    company: null,
    membershipId: null,
    roles: [],
    features: new Set(),
    now,
    timeZone: published(file).definition.portal.timeZone,
    mode: "live",
  });

export const ownerViewer = (staff: { id: string; name: string }, now: number, timeZone = "UTC"): Owner =>
  viewerFrom({
    kind: "owner",
    person: { id: staff.id, name: staff.name, status: "active", values: {} },
    company: null,
    membershipId: null,
    roles: [],
    features: new Set(),
    now,
    timeZone,
    mode: "live",
  }) as Owner;

/** In another thread of this process, which was handed the facts by the one that knew who asks. */
export const sameViewer = (facts: ViewerFacts): Viewer => viewerFrom(facts);
