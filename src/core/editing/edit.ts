/** Changes to the pages of a definition. Pure: each gives the definition as it is afterwards. */
import { generateKeyBetween } from "fractional-indexing";
import { isReserved } from "../address/reserved";
import { slugOf } from "../address/slug";
import type { Definition } from "../definition/definition";
import { type AllPages, allPagesOf } from "../pages/all-pages";
import { EVERYBODY, inOrder, type Navigation, type Page, type Section } from "../pages/page";
import type { Schema } from "../schema/types";

/** A ready-made page that somebody changes is one like any other from then on. */
export function takenUp(d: Definition, id: string, schema: Schema): Definition {
  if (d.pages.some((p) => p.id === id)) return d;
  const book = allPagesOf(d, schema);
  const page = book.page(id);
  return page ? { ...d, pages: [...d.pages, page], sections: [...d.sections, ...book.sections(id)] } : d;
}

export const freeAddress = (book: AllPages, name: string, ofRecord: boolean, schema: Schema): string =>
  slugOf(
    name,
    "page",
    (slug) => isReserved("page", slug) || book.at(slug, ofRecord) !== undefined || schema.tableBySlug(slug) !== undefined,
  );

/** The definition with a new page at the end of the menu; `about` is the table whose record it shows. */
export function addPage(d: Definition, id: string, name: string, about: string | null, schema: Schema): Definition {
  const page: Page = {
    id,
    name,
    address: freeAddress(allPagesOf(d, schema), name, about !== null, schema),
    about,
    audience: EVERYBODY,
    passphrase: null,
  };
  return { ...d, pages: [...d.pages, page] };
}

/** The definition with this page in place of the one with its id. */
export function changePage(d: Definition, page: Page, schema: Schema): Definition {
  const taken = takenUp(d, page.id, schema);
  return { ...taken, pages: taken.pages.map((p) => (p.id === page.id ? page : p)) };
}

/** A page that began as a ready-made one is ready-made again, unless it is removed for good. */
export function removePage(d: Definition, id: string, forGood: boolean): Definition {
  const thrown = forGood && !d.thrown.some((t) => t.id === id) ? [...d.thrown, { id }] : d.thrown;
  return {
    ...d,
    thrown,
    pages: d.pages.filter((p) => p.id !== id),
    sections: d.sections.filter((s) => s.page !== id),
    navigation: d.navigation.filter((n) => n.leads.to !== "page" || n.leads.page !== id),
    landing: Object.fromEntries(Object.entries(d.landing).filter(([, l]) => l.page !== id)),
  };
}
/** The definition with a thrown-away page among its pages again. */
export const bringBackPage = (d: Definition, id: string): Definition => ({ ...d, thrown: d.thrown.filter((t) => t.id !== id) });

/** A copy of the page and of its sections, each with a new id. */
export function copyPage(d: Definition, id: string, newId: () => string, schema: Schema): Definition {
  const book = allPagesOf(d, schema);
  const page = book.page(id);
  if (!page) return d;
  const name = `${page.name} (copy)`.slice(0, 80);
  const copy: Page = { ...page, id: newId(), name, address: freeAddress(book, name, page.about !== null, schema) };
  const sections = book.sections(id).map((s) => ({ ...s, id: newId(), page: copy.id }));
  return { ...d, pages: [...d.pages, copy], sections: [...d.sections, ...sections] };
}

/** Where a section goes on its page: after another, or (null) to the top. */
function placeAfter(d: Definition, page: string, after: string | null, moved: string | null): string {
  const there = inOrder(d.sections.filter((s) => s.page === page && s.id !== moved));
  const at = after === null ? -1 : there.findIndex((s) => s.id === after);
  const from = after !== null && at < 0 ? there.length - 1 : at;
  return generateKeyBetween(there[from]?.place ?? null, there[from + 1]?.place ?? null);
}

/** The definition with a section behind `after`, or first where that is null. */
export function addSection(d: Definition, s: Section, after: string | null, schema: Schema): Definition {
  const taken = takenUp(d, s.page, schema);
  return { ...taken, sections: [...taken.sections, { ...s, place: placeAfter(taken, s.page, after, null) }] };
}

/** The definition with this section in place of the one with its id. */
export function changeSection(d: Definition, s: Section, schema: Schema): Definition {
  const taken = takenUp(d, s.page, schema);
  return { ...taken, sections: taken.sections.map((x) => (x.id === s.id ? { ...s, page: x.page, place: x.place } : x)) };
}

/** The definition with a section of the page moved behind `after`, or first where that is null. */
export function moveSection(d: Definition, page: string, id: string, after: string | null, schema: Schema): Definition {
  const taken = takenUp(d, page, schema);
  const place = placeAfter(taken, page, after, id);
  return { ...taken, sections: taken.sections.map((s) => (s.id === id && s.page === page ? { ...s, place } : s)) };
}

/** The definition without a section of the page. */
export function removeSection(d: Definition, page: string, id: string, schema: Schema): Definition {
  const taken = takenUp(d, page, schema);
  return { ...taken, sections: taken.sections.filter((s) => s.id !== id) };
}

/** The definition with a copy of a section behind it, under a new id. */
export function copySection(d: Definition, page: string, id: string, newId: string, schema: Schema): Definition {
  const taken = takenUp(d, page, schema);
  const s = taken.sections.find((x) => x.id === id);
  return s ? addSection(taken, { ...s, id: newId }, id, schema) : d;
}

/** The menu that follows from the pages, written into the definition so that it can be changed. */
export function menuTaken(d: Definition, newId: () => string, schema: Schema): Definition {
  if (d.navigation.length > 0) return d;
  const book = allPagesOf(d, schema);
  let place: string | null = null;
  const navigation = book.pages
    .filter((p) => p.about === null)
    .map((p): Navigation => {
      place = generateKeyBetween(place, null);
      const audience = p.address === "" ? { ...EVERYBODY, states: ["in" as const] } : EVERYBODY;
      return { id: newId(), place, group: null, name: p.name, audience, leads: { to: "page", page: p.id } };
    });
  return { ...d, navigation };
}

/** The definition with an entry of the menu one place up (-1) or down (1). */
export function moveEntry(d: Definition, id: string, by: -1 | 1): Definition {
  const entry = d.navigation.find((n) => n.id === id);
  if (!entry) return d;
  const beside = inOrder(d.navigation.filter((n) => n.group === entry.group));
  const at = beside.findIndex((n) => n.id === id);
  const [low, high] = by < 0 ? [beside[at - 2], beside[at - 1]] : [beside[at + 1], beside[at + 2]];
  if (by < 0 ? at === 0 : at === beside.length - 1) return d;
  const place = generateKeyBetween(low?.place ?? null, high?.place ?? null);
  return { ...d, navigation: d.navigation.map((n) => (n.id === id ? { ...n, place } : n)) };
}
