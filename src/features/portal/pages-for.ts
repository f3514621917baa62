/** The pages of this portal, and which of them are for whoever asks. */

import { notFound, redirect } from "next/navigation";
import { type AllPages, allPagesIn } from "@/core/pages/all-pages";
import { fits, type Reader, readerOf } from "@/core/pages/audience";
import type { Page, Section } from "@/core/pages/page";
import { aroundOf, sectionProblems } from "@/core/pages/problems";
import type { Condition } from "@/core/schema/condition";
import type { SeenRecord } from "@/core/schema/seen";
import type { Table } from "@/core/schema/types";
import { readsOf } from "@/core/sections";
import { movedPage } from "@/data/definition/page-addresses";
import { readerMeets } from "@/data/records/reader";
import { movedTable } from "@/data/tables/read";
import type { PortalRequest } from "@/identity/requests/request";
import { toSignIn } from "./entry";
import { missingFeatures, standingHere } from "./queries";

export const allPagesFor = (r: PortalRequest): AllPages => allPagesIn(r.published);

const readers = new WeakMap<PortalRequest, Reader>();
export function readerFor(r: PortalRequest): Reader {
  let reader = readers.get(r);
  if (!reader) readers.set(r, (reader = readerOf(r.published.policy, r.viewer, r.waits, () => standingHere(r)?.state === "lapsed")));
  return reader;
}

/** Where a record is looked at, or undefined where no page shows it. */
export function recordHref(r: PortalRequest): (tableId: string, id: string) => string | undefined {
  const book = allPagesFor(r);
  return (tableId, id) => {
    const table = r.published.policy.schema.findTable(tableId);
    const page = table && r.desk.may(table, "see") ? book.sheetOf(tableId) : undefined;
    return page && fits(page.audience, readerFor(r)) ? `${r.base}/${page.address}/${id}` : undefined;
  };
}

/** A table's list, as an address; undefined where no page of it is for the reader. */
export function listHref(r: PortalRequest, tableId: string): string | undefined {
  const page = allPagesFor(r).listOf(tableId);
  return page && fits(page.audience, readerFor(r)) ? `${r.base}/${page.address}` : undefined;
}

/** The record that a page is about, as its reader sees it. */
export interface AboutRecord {
  readonly table: Table;
  readonly record: SeenRecord;
}

/** Sections that show anything to this reader, in order. A condition that cannot be read hides its section. */
export function shownSections(r: PortalRequest, page: Page, about: AboutRecord | null): readonly Section[] {
  const { policy, definition } = r.published;
  const book = allPagesFor(r);
  const reader = readerFor(r);
  const around = aroundOf(page, book, definition.acts, policy.schema);
  return book.sections(page.id).filter((s) => {
    if (!fits(s.audience, reader) || sectionProblems(s, around).length > 0) return false;
    if (s.reader && !readerMeets(r.desk, s.reader)) return false;
    return !s.record || (about !== null && recordMeets(r, about, s.record));
  });
}

/** For the owner: why whoever is looked as misses a section, in a sentence; null where they meet it. */
export function whyMissed(r: PortalRequest, page: Page, about: AboutRecord | null, s: Section): string | null {
  const name = r.viewer.person?.name.split(" ")[0] ?? "A visitor";
  const reader = readerFor(r);
  if (!fits(page.audience, reader)) return `${name} does not meet this page: it is for others.`;
  if (!fits(s.audience, reader)) return `${name} misses it: it is for others.`;
  const closed = closedWords(r, name, s);
  if (closed) return closed;
  if (s.reader && !readerMeets(r.desk, s.reader)) return `${name} misses it: they are not as it asks.`;
  if (s.record && !(about && recordMeets(r, about, s.record))) return `${name} misses it on this record.`;
  return null;
}

/** Where the section's table is closed to whoever is looked as, that in a sentence. */
function closedWords(r: PortalRequest, name: string, s: Section): string | null {
  const reads = readsOf(s);
  const table = reads && r.published.policy.schema.findTable(reads.table);
  if (!table || r.desk.may(table, reads.doing)) return null;
  if (reads.doing === "add") return `${name} misses it: no grant lets them add to ${table.name}.`;
  return missingFeatures(r, table).length > 0
    ? `${name} is told that a plan opens it.`
    : `${name} misses it: no grant opens ${table.name} to them.`;
}

/** As far as the reader may read what is tested, like every filter of theirs. */
export const recordMeets = (r: PortalRequest, { table, record }: AboutRecord, c: Condition): boolean =>
  r.desk.count(table, { condition: { kind: "all", of: [itself(record.id), c] } }) > 0;

export const itself = (id: string): Condition => ({
  kind: "test",
  path: ["self"],
  operator: "is",
  operands: [{ kind: "literal", value: id }],
});

/** Whether there is anything on the page for this reader: a page whose lists are all closed to them stands in no menu. */
export function hasAny(r: PortalRequest, page: Page): boolean {
  if (!fits(page.audience, readerFor(r))) return false;
  const sections = allPagesFor(r).sections(page.id);
  return sections.some((s) => {
    const reads = readsOf(s);
    if (!reads?.standsFor) return true;
    const table = r.published.policy.schema.findTable(reads.table);
    return table !== undefined && r.desk.may(table, reads.doing);
  });
}

/** The page that had this address, for whoever it is for: its present address tells others nothing. */
export function formerly(r: PortalRequest, address: string): Page | undefined {
  const id = movedPage(r.file, address);
  const page = id === undefined ? undefined : r.published.definition.pages.find((p) => p.id === id);
  return page && fits(page.audience, readerFor(r)) && (hasAny(r, page) || closedHere(r, page)) ? page : undefined;
}

/** A page by its address. One that is for others reads as one that does not exist; whoever is signed out is asked in. */
export function pageAt(r: PortalRequest, address: string): Page {
  const page = allPagesFor(r).at(address, false);
  const visitor = r.viewer.kind === "visitor";
  if (page && fits(page.audience, readerFor(r)) && (hasAny(r, page) || closedHere(r, page))) return page;
  // Made for whoever is out: those who are in have nothing to do there.
  if (page && !visitor && page.audience.states.length > 0 && page.audience.states.every((s) => s === "out" || s === "waiting"))
    redirect(r.base || "/");
  const there = page ? undefined : formerly(r, address);
  if (there) redirect(r.base + r.path.replace(`/${address}`, `/${there.address}`));
  const moved = page ? undefined : movedTable(r.file, address);
  const now = moved && listHref(r, moved.id);
  if (now) redirect(now + (/\?.*$/.exec(r.path)?.[0] ?? ""));
  if (visitor && !r.waits) toSignIn(r);
  notFound();
}

/** The one list of the page, where a plan would open it. */
export function closedHere(r: PortalRequest, page: Page): Table | null {
  const lists = allPagesFor(r)
    .sections(page.id)
    .flatMap((s) => (s.kind === "list" ? [s.config.source.table] : []));
  const table = lists.length > 0 ? r.published.policy.schema.findTable(lists[0]!) : undefined;
  return table && !r.desk.may(table, "see") && missingFeatures(r, table).length > 0 ? table : null;
}
