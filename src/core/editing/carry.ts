/**
 * A page, or one of its sections, from another portal. What it is made of is found again by its name: tables and fields by their address,
 * choices, roles, features and acts by their words. Ids of two portals may be the same and mean something else: what has no counterpart gets
 * an id that nothing has, which the editor tells as gone.
 */
import type { Definition } from "../definition/definition";
import { allPagesOf } from "../pages/all-pages";
import type { Page, Section } from "../pages/page";
import { listPageId, sheetPageId } from "../pages/ready";
import type { Schema } from "../schema/types";
import { addSection, freeAddress } from "./edit";

interface Place {
  readonly definition: Definition;
  readonly schema: Schema;
}

export interface Carried {
  readonly definition: Definition;
  /** What this portal does not have, each once: "the field Material". */
  readonly lost: readonly string[];
}

type Names = ReadonlyMap<string, string>;

/** The ids of one portal mapped to those of the other, and the names of what has no counterpart. */
function counterparts(from: Place, to: Place): { ids: Names; missing: Names } {
  const ids = new Map<string, string>();
  const missing = new Map<string, string>();
  const pair = (id: string, other: string | undefined, called: string): void => void (other ? ids.set(id, other) : missing.set(id, called));
  const theirs = allPagesOf(to.definition, to.schema);
  const readyOnes = new Set(from.schema.tables.flatMap((t) => [listPageId(t.id), sheetPageId(t.id)]));
  for (const p of allPagesOf(from.definition, from.schema).pages)
    if (!readyOnes.has(p.id)) pair(p.id, theirs.at(p.address, p.about !== null)?.id, `the page ${p.name}`);
  for (const t of from.schema.tables) {
    const same =
      to.schema.findTable(t.id)?.kind === t.kind && t.kind !== "ordinary" ? to.schema.findTable(t.id) : to.schema.tableBySlug(t.slug);
    pair(t.id, same?.id, `the table ${t.name}`);
    for (const page of [listPageId, sheetPageId]) pair(page(t.id), same && page(same.id), `the page of ${t.name}`);
    for (const f of t.fields) {
      const fits = same?.fields.find((x) => x.slug === f.slug && x.type === f.type);
      pair(f.id, fits?.id, `the field ${f.name} of ${t.name}`);
      for (const c of f.options.choices ?? [])
        pair(c.id, fits?.options.choices?.find((x) => x.name === c.name)?.id, `the choice ${c.name} of ${f.name}`);
    }
  }
  const { definition: a } = from;
  const { definition: b } = to;
  for (const r of a.roles) pair(r.id, b.roles.find((x) => x.name === r.name && x.side === r.side)?.id, `the role ${r.name}`);
  for (const f of a.features) pair(f.id, b.features.find((x) => x.name === f.name)?.id, `the feature ${f.name}`);
  for (const x of a.acts) pair(x.id, b.acts.find((y) => y.name === x.name && y.table === ids.get(x.table))?.id, `the act ${x.name}`);
  return { ids, missing };
}

/** Under these stand words of somebody's, or settings: never ids, though they may read like one. */
const NO_IDS = new Set(
  "kind type look text title name alt empty help label placeholder group said words href address tone icon operator anchor place".split(
    " ",
  ),
);
const nowhere = (id: string): string => `gone_${id}`.slice(0, 64);

/** Every id of the one portal, as the other's. */
function translated<T>(of: T, { ids, missing }: ReturnType<typeof counterparts>, lost: Set<string>): T {
  const walk = (v: unknown): unknown => {
    if (typeof v === "string") {
      const gone = missing.get(v);
      if (gone) lost.add(gone);
      return gone ? nowhere(v) : (ids.get(v) ?? v);
    }
    if (Array.isArray(v)) return v.map(walk);
    if (typeof v === "object" && v !== null) return Object.fromEntries(Object.entries(v).map(([k, x]) => [k, NO_IDS.has(k) ? x : walk(x)]));
    return v;
  };
  return walk(of) as T;
}

/** Its page and id are given; ids within its settings are still the other portal's, and are translated. */
function sectionIn(s: Section, page: string, id: string, map: ReturnType<typeof counterparts>, lost: Set<string>): Section {
  const { config, audience, record, reader } = s;
  return { ...s, ...translated({ config, audience, record, reader }, map, lost), id, page } as Section;
}

/** A copy of the page with its sections, at a free address. Null where there is no such page. */
export function carryPage(from: Place, to: Place, pageId: string, newId: () => string): Carried | null {
  const book = allPagesOf(from.definition, from.schema);
  const page = book.page(pageId);
  if (!page) return null;
  const lost = new Set<string>();
  const map = counterparts(from, to);
  const about = page.about === null ? null : (map.ids.get(page.about) ?? null);
  if (page.about !== null && about === null) return null; // about a record of a table that there is none of
  const audience = translated(page.audience, map, lost);
  const there = allPagesOf(to.definition, to.schema);
  const copy: Page = {
    ...page,
    id: newId(),
    about,
    audience,
    address: freeAddress(there, page.name, about !== null, to.schema),
    passphrase: null,
  };
  const sections = book.sections(pageId).map((s) => sectionIn(s, copy.id, newId(), map, lost));
  const { definition: d } = to;
  return { definition: { ...d, pages: [...d.pages, copy], sections: [...d.sections, ...sections] }, lost: [...lost] };
}

/** A copy of one section at the end of a page of the other portal. */
export function carrySection(from: Place, to: Place, sectionId: string, page: string, newId: () => string): Carried | null {
  const book = allPagesOf(from.definition, from.schema);
  const s = book.pages.flatMap((p) => book.sections(p.id)).find((x) => x.id === sectionId);
  const there = allPagesOf(to.definition, to.schema);
  if (!s || !there.page(page)) return null;
  const lost = new Set<string>();
  const copy = sectionIn(s, page, newId(), counterparts(from, to), lost);
  const last = there.sections(page).at(-1)?.id ?? null;
  return { definition: addSection(to.definition, copy, last, to.schema), lost: [...lost] };
}
