/** All pages of a definition: those that were laid out, and the ready-made ones that nobody changed or removed. */
import type { Policy } from "../access/policy";
import { Memo } from "../memo";
import type { Schema } from "../schema/types";
import { inOrder, type Page, type Pages, type Section } from "./page";
import { type Opened, openedTables, readyPages } from "./ready";

export interface AllPages {
  readonly pages: readonly Page[];
  /** Ids of those that follow the grants. */
  readonly ready: ReadonlySet<string>;
  page(id: string): Page | undefined;
  /** By its address; of a page about a record the address before the record's own. */
  at(address: string, ofRecord: boolean): Page | undefined;
  /** In order. */
  sections(page: string): readonly Section[];
  /** The page on which a table's list stands, and the one about its records: where links to them lead. */
  listOf(table: string): Page | undefined;
  sheetOf(table: string): Page | undefined;
}

const known = new Memo<object, string, AllPages>();

/** The pages of what is published, put together once for each state of it: `policy` lives as long as that. */
export const allPagesIn = ({ policy, definition }: { readonly policy: Policy; readonly definition: Pages & Opened }): AllPages =>
  known.of(policy, "pages", () => allPagesOf(definition, policy.schema));

/** The pages of a portal: those that were laid out, and the ready-made ones of each table that a grant opens. */
export function allPagesOf(d: Pages & Opened, schema: Schema): AllPages {
  const known = new Set([...d.pages, ...d.thrown].map((p) => p.id));
  const ready = readyPages(schema, d).filter((l) => !known.has(l.page.id));
  const taken = new Set(d.pages.map((p) => keyOf(p.address, p.about !== null)));
  // A page of the owner's replaces the ready-made page whose address it took.
  const kept = ready.filter((l) => !taken.has(keyOf(l.page.address, l.page.about !== null)));
  const pages = [...kept.map((l) => l.page), ...d.pages];
  const byId = new Map(pages.map((p) => [p.id, p]));
  const byAddress = new Map(pages.map((p) => [keyOf(p.address, p.about !== null), p]));
  const sections = new Map<string, Section[]>();
  for (const s of [...kept.flatMap((l) => l.sections), ...inOrder(d.sections)]) {
    const there = sections.get(s.page);
    if (there) there.push(s);
    else sections.set(s.page, [s]);
  }
  const opened = openedTables(schema, d.grants).map((t) => t.id);
  const place = (p: Page): number => (p.address === "" ? -1 : firstTable(sections.get(p.id) ?? [], opened));
  const ordered = pages
    .map((p, i) => ({ p, i, at: place(p) }))
    .toSorted((a, b) => a.at - b.at || a.i - b.i)
    .map((x) => x.p);
  const listOf = (table: string): Page | undefined =>
    byId.get(`list-${table}`) ??
    ordered.find(
      (p) =>
        p.about === null &&
        (sections.get(p.id) ?? []).some((s) => s.kind === "list" && s.config.source.table === table && s.config.look !== "few"),
    );
  return {
    pages: ordered,
    ready: new Set(kept.map((l) => l.page.id)),
    page: (id) => byId.get(id),
    at: (address, ofRecord) => byAddress.get(keyOf(address, ofRecord)),
    sections: (page) => sections.get(page) ?? [],
    listOf,
    sheetOf: (table) => byId.get(`sheet-${table}`) ?? ordered.find((p) => p.about === table),
  };
}

const keyOf = (address: string, ofRecord: boolean): string => `${address}${ofRecord ? "/" : ""}`;

/** Pages stand in the order of the tables they list; those of none come after. */
function firstTable(sections: readonly Section[], opened: readonly string[]): number {
  const lists = sections.find((s) => s.kind === "list");
  const at = lists?.kind === "list" ? opened.indexOf(lists.config.source.table) : -1;
  return at < 0 ? opened.length : at;
}
