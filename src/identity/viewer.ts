/** Makes viewers: the one place outside tests that may. */

import { viewerFrom } from "@/core/access/make-viewer";
import type { Viewer } from "@/core/access/viewer";
import { dateIn } from "@/core/time/relative";
import { published } from "@/data/definitions";
import type { PortalFile } from "@/data/open";
import type { Owner } from "@/data/owner";
import { companyFacts, membershipsOf, personFacts } from "@/data/people";
import { standingOf } from "@/data/standing";

/** A person acting in one membership; without a membership they hold no role anywhere. */
export function personViewer(
  file: PortalFile,
  personId: string,
  membershipId: string | null,
  now: number,
  mode: Viewer["mode"] = "live",
): Viewer | undefined {
  const person = personFacts(file, personId);
  if (!person) return undefined;
  const { definition } = published(file);
  const all = membershipsOf(file, personId);
  const membership = all.find((m) => m.id === membershipId) ?? all[0];
  const company = membership?.companyId ? companyFacts(file, membership.companyId) : undefined;
  const { timeZone } = definition.portal;
  const features = company
    ? standingOf(file, definition, company.id, dateIn(now, timeZone)).features
    : new Set(membership ? definition.features.map((f) => f.id) : []); // the agency's own people need no plan
  return viewerFrom({
    kind: "person",
    person,
    company: company ?? null,
    membershipId: membership?.id ?? null,
    roles: membership?.roles ?? [],
    features,
    now,
    timeZone,
    mode,
  });
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
