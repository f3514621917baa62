/** What a section is shown with: the reader, the page, and the record that the page is about. */
import type { Page, Section } from "@/core/pages/page";
import type { PortalRequest } from "@/identity/requests/request";
import type { AboutRecord } from "../pages-for";
import type { Search } from "../queries";

export interface At {
  readonly r: PortalRequest;
  readonly page: Page;
  readonly about: AboutRecord | null;
  readonly search: Search;
  /** Before the names of the section's parameters in the address: "" of the first list on a page, then "2.", "3." and on. */
  readonly key: string;
  /** It carries the page's own heading; others have a smaller one, or none. */
  readonly head: boolean;
  /** A sentence about what was just done, above the page. */
  readonly note: string | null;
}

export interface SectionProps<S extends Section> {
  readonly at: At;
  readonly section: S;
}

/** The id of a section's heading, for `aria-labelledby`. */
export const headingId = (s: Section): string => `h-${s.id}`;

/** Headings within a section stand one below its own, whether or not that is the page's. */
export const below = (at: At): "h2" | "h3" => (at.head ? "h2" : "h3");
