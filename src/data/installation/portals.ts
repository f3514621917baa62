/** The list of portals, and the making of a new one. */

import { asc, eq, notLike } from "drizzle-orm";
import { everyoneRole } from "@/core/access/rules";
import type { Owner } from "@/core/access/who/viewer";
import { isReserved } from "@/core/address/reserved";
import type { Definition } from "@/core/definition/definition";
import { PLAIN_BRAND } from "@/core/definition/parts/brand";
import { NO_BILLING } from "@/core/definition/parts/plans";
import type { PortalId } from "@/core/ids";
import { NO_PAGES } from "@/core/pages/page";
import { type Publisher, storePublished } from "../definition/published";
import { portals } from "../file/control-tables";
import { newId } from "../file/ids";
import { control, createPortalFile, forgetAddresses, isSlug, type PortalFile, portalIdAt } from "../file/open";
import { transact } from "../file/transact";
import { addBuiltInTables } from "../tables/built-in";

/** All portals of the installation; rehearsals are none. */
export const listPortals = (_owner: Owner): { slug: string; name: string }[] =>
  // A rehearsal is found from its portal.
  control()
    .orm.select({ slug: portals.slug, name: portals.name })
    .from(portals)
    .where(notLike(portals.slug, "rehearsal-%"))
    .orderBy(asc(portals.name))
    .all();

/** Nothing is open in it: no grants, no walls but the agency's own. */
export function emptyDefinition(name: string): Definition {
  return {
    portal: { name, locale: "en-GB", timeZone: "Europe/London", currency: "GBP" },
    roles: [
      { id: "staff", name: "Staff", side: "agency", includes: [], about: "The agency's own people." },
      { ...everyoneRole, includes: [] },
      { id: "lead", name: "Lead", side: "client", includes: [], about: "Runs the work on the client's side." },
      { id: "visitor", name: "Visitor", side: "visitor", includes: [], about: "Anybody who is not signed in." },
    ],
    walls: { t_companies: { kind: "owned", path: [] }, t_people: { kind: "owned", path: ["f_person_companies"] } },
    grants: [],
    acts: [],
    safeguards: [],
    features: [],
    plans: [],
    prices: [],
    billing: NO_BILLING,
    offers: [],
    ...NO_PAGES,
    brand: { colour: "#2f5d50", ground: "#faf8f3", monogram: name.slice(0, 1).toUpperCase(), motto: "", contact: "", ...PLAIN_BRAND },
  };
}

/** The file is whole before the portal is listed; a slug that is taken or not an address is refused with a sentence. */
export function createPortal(slug: string, name: string, by: Publisher): { file: PortalFile } | { problem: string } {
  if (!isSlug(slug)) return { problem: "Use small letters, digits and hyphens for the address." };
  if (portalIdAt(slug)) return { problem: `There is a portal at ${slug} already.` };
  if (isReserved("portal", slug)) return { problem: `${slug} is an address that Elkhorn needs for itself. Choose another.` };
  const id = newId() as PortalId;
  const file = createPortalFile(id, slug);
  transact(file, () => {
    addBuiltInTables(file);
    storePublished(file, emptyDefinition(name), by);
  });
  control()
    .orm.insert(portals)
    .values({ id, slug, name, createdAt: new Date(by.at).toISOString() })
    .run();
  forgetAddresses();
  return { file };
}

/** Another address for a portal; nothing else of it changes: its sessions, links and files are called by its id. */
export function movePortal(_owner: Owner, from: string, to: string): string | null {
  if (!isSlug(to) || isReserved("portal", to)) return "Use small letters, digits and hyphens for the address.";
  if (portalIdAt(to)) return `There is a portal at ${to} already.`;
  control().orm.update(portals).set({ slug: to }).where(eq(portals.slug, from)).run();
  forgetAddresses();
  return null;
}
