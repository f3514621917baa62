/** A page as the editor asks about it: what whoever is looked as misses of it, and on which record it is looked at. */
import type { Page } from "@/core/pages/page";
import type { PortalRequest } from "@/identity/requests/request";
import { type AboutRecord, allPagesFor, whyMissed } from "./pages-for";

/** The first record that they see, of a page about one. */
export function firstRecord(r: PortalRequest, page: Page): AboutRecord | null {
  const table = page.about ? r.published.policy.schema.findTable(page.about) : undefined;
  const record = table && r.desk.may(table, "see") ? r.desk.list(table, { limit: 1 }).records[0] : undefined;
  return table && record ? { table, record } : null;
}

/** By section: why they miss it. Null where nobody is looked as. */
export function laidFor(r: PortalRequest | undefined, page: Page): { name: string; missed: Map<string, string | null> } | null {
  if (!r) return null;
  const about = firstRecord(r, page);
  const missed = allPagesFor(r)
    .sections(page.id)
    .map((s): [string, string | null] => [s.id, whyMissed(r, page, about, s)]);
  return { name: r.viewer.person?.name ?? "a visitor", missed: new Map(missed) };
}
