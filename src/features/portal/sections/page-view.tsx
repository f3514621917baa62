/** A page: its sections side by side as its owner laid them out, as far as they are for the reader. */

import type { ComponentType } from "react";
import type { Page, Section } from "@/core/pages/page";
import { SECTION_KINDS } from "@/core/sections";
import type { PortalRequest } from "@/identity/requests/request";
import { Empty } from "@/ui/empty";
import { type AboutRecord, allPagesFor, shownSections } from "../pages-for";
import { type Search, sayOf } from "../queries";
import { VIEWS } from "../sections";
import { type At, headingId, type SectionProps } from "./at";

/** Kinds that carry the page's own heading where they come first. */
interface Props {
  r: PortalRequest;
  page: Page;
  about: AboutRecord | null;
  search: Search;
  note: string | null;
  /** In the editor: each section within what selects it. */
  around?: ComponentType<{ section: Section; children: React.ReactNode }>;
}

/** The sections of a page in their places, each drawn with what the viewer sees. */
export function PageView({ r, page, about, search, note, around: Around }: Props) {
  const sections = shownSections(r, page, about);
  // Names of parameters hold whichever sections a reader sees: they are numbered over all of the page's lists.
  const lists = allPagesFor(r)
    .sections(page.id)
    .filter((s) => SECTION_KINDS[s.kind].asks);
  const key = (s: Section): string => {
    const at = lists.findIndex((x) => x.id === s.id);
    return at <= 0 && (about === null || at < 0) ? "" : `${at + 1}.`;
  };
  const first = sections.find((s) => s.kind !== "notice");
  const head = first && SECTION_KINDS[first.kind].heads && !(first.kind === "list" && first.config.look === "few") ? first : undefined;
  return (
    <article className="grid grid-cols-12 gap-x-5 gap-y-7 [&>*]:min-w-0">
      {!head && (
        <div className="col-span-12">
          <h1>{about ? r.desk.label(about.table, about.record) : page.name}</h1>
        </div>
      )}
      {sections.map((s) => {
        const at: At = { r, page, about, search, key: key(s), head: s === head, note };
        const View = VIEWS[s.kind] as ComponentType<SectionProps<Section>>;
        const shown = <View at={at} section={s} />;
        return (
          <section
            key={s.id}
            id={s.id}
            aria-labelledby={s === head ? undefined : headingId(s)}
            className={`grid content-start gap-4 empty:hidden [&>*]:min-w-0 ${SPAN[s.width - 1]} ${s.breaks ? "lg:col-start-1" : ""}`}
          >
            {Around ? <Around section={s}>{shown}</Around> : shown}
          </section>
        );
      })}
      {sections.length === 0 && (
        <div className="sheet col-span-12">
          <Empty title={sayOf(r)("page.nothing")}>{sayOf(r)("page.nothing-more")}</Empty>
        </div>
      )}
    </article>
  );
}

/** Narrow screens have one after the other; middling ones at least half. Written out, for Tailwind finds names by reading. */
const SPAN = [
  "col-span-12 md:col-span-6 lg:col-span-1",
  "col-span-12 md:col-span-6 lg:col-span-2",
  "col-span-12 md:col-span-6 lg:col-span-3",
  "col-span-12 md:col-span-6 lg:col-span-4",
  "col-span-12 md:col-span-6 lg:col-span-5",
  "col-span-12 md:col-span-6",
  "col-span-12 lg:col-span-7",
  "col-span-12 lg:col-span-8",
  "col-span-12 lg:col-span-9",
  "col-span-12 lg:col-span-10",
  "col-span-12 lg:col-span-11",
  "col-span-12",
];
