/** A page about a record, by the address of the page and the record's own. */
import { notFound, redirect } from "next/navigation";
import { fits } from "@/core/pages/audience";
import type { Page } from "@/core/pages/page";
import type { PortalRequest } from "@/identity/requests/request";
import { tableAt } from "../entry";
import { type AboutRecord, allPagesFor, readerFor, recordHref } from "../pages-for";
import { sayOf } from "../queries";

export interface RecordPage {
  readonly page: Page;
  readonly about: AboutRecord;
}

/** The page of one record at its address; a former address leads to the present one, and whoever may not see it is told "not found". */
export function recordPageAt(r: PortalRequest, address: string, id: string): RecordPage {
  const page = allPagesFor(r).at(address, true);
  const of = page?.about ? r.published.policy.schema.findTable(page.about) : undefined;
  if (!page || !of) {
    // A table that was called so leads to where its records are looked at now.
    const { table } = tableAt(r, address);
    const record = r.desk.read(table, id) ?? r.desk.readByAddress(table, id);
    const to = record && recordHref(r)(table.id, r.desk.addressOf(table, record));
    if (to) redirect(to);
    notFound();
  }
  const { table } = tableAt(r, of.slug);
  const record = fits(page.audience, readerFor(r)) ? (r.desk.read(table, id) ?? r.desk.readByAddress(table, id)) : undefined;
  if (!record) notFound();
  // One address for each record, so that what is shared is what can be read; former ones lead to it.
  const own = r.desk.addressOf(table, record);
  if (own !== id) redirect(`${r.base}/${page.address}/${own}${/\?.*$/.exec(r.path)?.[0] ?? ""}`);
  return { page, about: { table, record } };
}

/** What is said above a record that was added or changed just now; null otherwise. */
export function noteOf(r: PortalRequest, { about: { table } }: RecordPage, search: { added?: string; saved?: string }): string | null {
  const say = sayOf(r);
  if (search.added) return say("sheet.added", { thing: table.singular.toLowerCase() });
  return search.saved ? say("sheet.saved") : null;
}
