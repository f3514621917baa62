/** What the portal's pages show, gathered for one viewer. Everything here goes through the records repository. */

import type { Reason } from "@/core/access/decision";
import { scope } from "@/core/access/scope";
import type { Locale } from "@/core/schema/fields/kind";
import type { Field, Table } from "@/core/schema/types";
import { dateIn } from "@/core/time/relative";
import { type Say, sayIn } from "@/core/words/words";
import { type Standing, standingFrom } from "@/data/billing/standing";
import { Busy, isBusy, whenFree } from "@/data/file/when-free";
import { personFacts } from "@/data/people/people";
import { automaticCompany } from "@/data/records/write/incoming";
import { countOf } from "@/data/tables/count";
import type { PortalRequest } from "@/identity/requests/request";
import { noteOpened } from "@/identity/secrets/links";

/** The language and time zone in which a portal speaks. */
export const localeOf = (r: PortalRequest): Locale => ({
  locale: r.published.definition.portal.locale,
  timeZone: r.published.definition.portal.timeZone,
});

/** The portal's own words, in its language. */
export const sayOf = (r: PortalRequest): Say => sayIn(localeOf(r).locale);

/** Tables that the viewer's grants open, in the agency's order, people and companies last. */
export function openTables(r: PortalRequest): Table[] {
  const open = r.published.policy.schema.tables.filter((t) => t.kind !== "books" && r.desk.may(t, "see"));
  return [...open.filter((t) => t.kind === "ordinary"), ...open.filter((t) => t.kind !== "ordinary")];
}

/** Features that would open the table, or more of it, if the plan had them. */
export function missingFeatures(r: PortalRequest, table: Table): string[] {
  const reasons: readonly Reason[] = scope(r.published.policy, r.viewer, table.id).reasons;
  const ids = new Set(reasons.flatMap((x) => (x.code === "feature" ? [x.feature] : [])));
  return [...ids].map((id) => r.published.definition.features.find((f) => f.id === id)?.name ?? id);
}

export const plannedTables = (r: PortalRequest): Table[] =>
  r.published.policy.schema.tables.filter((t) => t.kind !== "books" && !r.desk.may(t, "see") && missingFeatures(r, t).length > 0);

/** Fields worth a column: the wall's own company says nothing to people of one company. */
export function columns(r: PortalRequest, table: Table): Field[] {
  const own = automaticCompany(r.published.policy, r.viewer, table.id);
  return r.desk.known(table).filter((f) => f.id !== own && f.id !== "f_company_slug");
}

export type Search = Record<string, string | string[] | undefined>;
export const one = (v: string | string[] | undefined): string => (Array.isArray(v) ? (v[0] ?? "") : (v ?? ""));

/** For the banner of "see as": what this person sees of a table, of how many. */
export const seenOf = (r: PortalRequest, table: Table): { seen: number; all: number } => ({
  seen: r.desk.count(table),
  all: countOf(r.file, table.id),
});

/** Whose link it is, before they are in. */
export const personName = (r: PortalRequest, id: string): string | undefined => personFacts(r.file, id)?.name;

/** What the viewer's company has paid for; null for whoever acts for none. */
export function standingHere(r: PortalRequest): Standing | null {
  const { company, now, timeZone } = r.viewer;
  const paid = r.memberships.find((m) => m.id === r.viewer.membershipId)?.paid;
  return company && paid ? standingFrom(r.published.definition, paid, dateIn(now, timeZone), r.viewer.person?.id ?? null) : null;
}

/** A link's page is looked at. Where the file is busy just then, that goes unnoted. */
export async function looked(r: PortalRequest, token: string): Promise<void> {
  try {
    await whenFree(r.file);
    noteOpened(r.file, token, r.viewer.now);
  } catch (e) {
    if (!(e instanceof Busy) && !isBusy(e)) throw e;
  }
}
