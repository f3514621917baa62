/** What would make pages wrong. Some of it keeps a draft from being stored; what only leaves a section empty is told beside it. */
import type { z } from "zod";
import type { Act } from "../access/act";
import { conditionProblems } from "../access/sound";
import { isReserved } from "../address/reserved";
import type { Schema } from "../schema/types";
import { SECTION_KINDS } from "../sections";
import type { Around, SectionKind } from "../sections/kind";
import type { AllPages } from "./all-pages";
import type { Page, Pages, Section } from "./page";

export const MOST_SECTIONS = 200;

/** Nothing can be reached that has the address of something else. */
export function pagesProblems(d: Pages, _schema: Schema): string[] {
  const problems: string[] = [];
  const seen = new Map<string, Page>();
  for (const p of d.pages) {
    if (isReserved("page", p.address)) problems.push(`The address /${p.address} is kept for Elkhorn itself. Choose another for ${p.name}.`);
    const key = `${p.address}${p.about ? "/" : ""}`;
    const other = seen.get(key);
    if (other) problems.push(`${p.name} and ${other.name} would have the same address, /${p.address}.`);
    seen.set(key, p);
    const n = d.sections.filter((s) => s.page === p.id).length;
    if (n > MOST_SECTIONS) problems.push(`${p.name} has ${n} sections. A page has ${MOST_SECTIONS} at the most.`);
  }
  const ids = new Set(d.pages.map((p) => p.id));
  if (d.sections.some((s) => !ids.has(s.page))) problems.push("A section stands on a page that is gone.");
  const groups = new Set(d.navigation.filter((n) => n.leads.to === "group").map((n) => n.id));
  if (d.navigation.some((n) => n.group !== null && !groups.has(n.group)))
    problems.push("An entry of the menu stands in a group that is gone.");
  if (d.navigation.some((n) => n.group !== null && n.leads.to === "group")) problems.push("A group of the menu stands in no other group.");
  return problems;
}

/** What a page's sections are judged by. */
export const aroundOf = (page: Page, book: AllPages, acts: readonly Act[], schema: Schema): Around => ({
  about: page.about ? (schema.findTable(page.about) ?? null) : null,
  schema,
  acts: new Map(acts.map((a) => [a.id, a])),
  pages: new Set(book.pages.map((p) => p.id)),
});

/** What keeps a section from showing what it should. The owner reads it next to the section; a client sees nothing there. */
export function sectionProblems(s: Section, around: Around): string[] {
  const kind = SECTION_KINDS[s.kind] as unknown as SectionKind<string, z.ZodRawShape>;
  if (kind.ofRecord && !around.about) return ["It stands on a page about no record."];
  return [
    ...kind.problems(s.config as never, around),
    ...(s.record
      ? around.about
        ? conditionProblems(s.record, around.about.id, around.schema)
        : ["It asks something of a record, but the page is about none."]
      : []),
    ...(s.reader ? conditionProblems(s.reader, around.schema.people.id, around.schema) : []),
  ];
}
