/** The list of portals, and the making of a new one. */

import { asc } from "drizzle-orm";
import { everyoneRole } from "@/core/access/rules";
import type { Owner } from "@/core/access/viewer";
import type { Definition } from "@/core/definition/definition";
import { type Publisher, storePublished } from "../definition/published";
import { portals } from "../file/control-tables";
import { control, createPortalFile, isSlug, type PortalFile, portalFile } from "../file/open";
import { transact } from "../file/transact";
import { addBuiltInTables } from "../schema/built-in";

export const listPortals = (_owner: Owner): { slug: string; name: string }[] =>
  control().orm.select({ slug: portals.slug, name: portals.name }).from(portals).orderBy(asc(portals.name)).all();

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
    offers: [],
    brand: { colour: "#2f5d50", ground: "#faf8f3", monogram: name.slice(0, 1).toUpperCase(), motto: "", contact: "" },
  };
}

/** The file is whole before the portal is listed; a slug that is taken or not an address is refused with a sentence. */
export function createPortal(slug: string, name: string, by: Publisher): { file: PortalFile } | { problem: string } {
  if (!isSlug(slug)) return { problem: "Use small letters, digits and hyphens for the address." };
  if (portalFile(slug)) return { problem: `There is a portal at ${slug} already.` };
  const file = createPortalFile(slug);
  transact(file, () => {
    addBuiltInTables(file);
    storePublished(file, emptyDefinition(name), by);
  });
  control()
    .orm.insert(portals)
    .values({ slug, name, createdAt: new Date(by.at).toISOString() })
    .run();
  return { file };
}
