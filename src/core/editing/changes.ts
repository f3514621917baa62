/** What differs between two states of the pages and of the brand, one sentence each. */
import type { Definition } from "../definition/definition";
import { type AllPages, allPagesOf } from "../pages/all-pages";
import { inOrder, type Page, type Section } from "../pages/page";
import type { Schema } from "../schema/types";
import { SECTION_KINDS } from "../sections";

export interface PageChange {
  /** The page that changes; null for the menu and for what opens after sign-in. */
  readonly page: string | null;
  /** What the page is called now; empty of none. */
  readonly name: string;
  readonly words: string;
}

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);
const called = (s: Section, schema: Schema): string =>
  s.title || ("source" in s.config ? schema.findTable(s.config.source.table)?.name : undefined) || SECTION_KINDS[s.kind].name;

/** What a draft changes about pages, for each page. */
export function pageChanges(before: Definition, after: Definition, schema: Schema): PageChange[] {
  const [was, is] = [allPagesOf(before, schema), allPagesOf(after, schema)];
  const pages = is.pages.flatMap((p): PageChange[] => {
    const old = was.page(p.id);
    // What grants open and close brings ready-made pages with it, which the grants tell of.
    if (!old) return is.ready.has(p.id) ? [] : [{ page: p.id, name: p.name, words: `A new page, ${p.name}, at /${p.address}.` }];
    return was.ready.has(p.id) && is.ready.has(p.id) ? [] : [...ofPage(old, p), ...ofSections(was, is, p, schema)];
  });
  const gone = was.pages
    .filter((p) => !is.page(p.id) && (!was.ready.has(p.id) || after.thrown.some((t) => t.id === p.id)))
    .map((p) => ({ page: null, name: "", words: `The page ${p.name} is thrown away.` }));
  return [...pages, ...gone, ...ofMenu(before, after)];
}

function ofPage(old: Page, p: Page): PageChange[] {
  const said = (words: string): PageChange => ({ page: p.id, name: p.name, words });
  return [
    ...(old.passphrase === p.passphrase
      ? []
      : [said(p.passphrase ? `${p.name} asks for words that open it.` : `${p.name} asks for no words any more.`)]),
    ...(old.name === p.name ? [] : [said(`The page ${old.name} is called ${p.name}.`)]),
    ...(old.address === p.address ? [] : [said(`${p.name} moves from /${old.address} to /${p.address}.`)]),
    ...(same(old.audience, p.audience) ? [] : [said(`${p.name} is for others than before.`)]),
  ];
}

function ofSections(was: AllPages, is: AllPages, p: Page, schema: Schema): PageChange[] {
  const [a, b] = [was.sections(p.id), is.sections(p.id)];
  const old = new Map(a.map((s) => [s.id, s]));
  const now = new Set(b.map((s) => s.id));
  const said = (s: Section, what: string): PageChange => ({
    page: p.id,
    name: p.name,
    words: `${p.name}: “${called(s, schema)}” ${what}.`,
  });
  const changed = b.flatMap((s): PageChange[] => {
    const o = old.get(s.id);
    if (!o) return [said(s, "is new")];
    const parts = [
      ...(o.title === s.title ? [] : ["has another title"]),
      ...(o.width === s.width && o.breaks === s.breaks ? [] : ["has another width"]),
      ...(same(o.config, s.config) ? [] : ["shows something else"]),
      ...(same([o.audience, o.record, o.reader], [s.audience, s.record, s.reader]) ? [] : ["is for others than before"]),
    ];
    return parts.length > 0 ? [said(s, parts.join(" and "))] : [];
  });
  const gone = a.filter((s) => !now.has(s.id)).map((s) => said(s, "is taken away"));
  const kept = (list: readonly Section[], other: ReadonlySet<string>): string =>
    list
      .filter((s) => other.has(s.id))
      .map((s) => s.id)
      .join();
  const moved =
    kept(a, now) === kept(b, new Set(old.keys()))
      ? []
      : [{ page: p.id, name: p.name, words: `${p.name}: its sections stand in another order.` }];
  return [...changed, ...gone, ...moved];
}

function ofMenu(before: Definition, after: Definition): PageChange[] {
  const names = (d: Definition): string =>
    inOrder(d.navigation)
      .map((n) => n.name)
      .join(", ");
  const menu = same(before.navigation, after.navigation)
    ? []
    : [
        {
          page: null,
          name: "",
          words: after.navigation.length === 0 ? "The menu follows the pages by itself." : `The menu is: ${names(after)}.`,
        },
      ];
  const landing = after.roles
    .filter((r) => before.landing[r.id]?.page !== after.landing[r.id]?.page)
    .map((r) => ({
      page: null,
      name: "",
      words: `${r.name} lands ${after.landing[r.id] ? "on another page" : "at home"} after signing in.`,
    }));
  return [...menu, ...landing];
}

const BRAND_WORDS: Record<keyof Definition["brand"], string> = {
  colour: "colour",
  ground: "ground",
  monogram: "letters of the mark",
  motto: "motto",
  contact: "contact",
  logo: "logo",
  head: "head of the page",
  titles: "type of titles",
  text: "type of text",
  density: "room",
  corners: "corners",
  signIn: "sign-in page",
  footer: "foot of the page",
};

/** What a draft changes about the brand, each as a sentence. */
export function brandChanges(before: Definition, after: Definition): string[] {
  const keys = Object.keys(BRAND_WORDS) as (keyof Definition["brand"])[];
  const parts = keys.filter((k) => !same(before.brand[k], after.brand[k])).map((k) => BRAND_WORDS[k]);
  return [
    ...(parts.length > 0 ? [`The brand changes in: ${parts.join(", ")}.`] : []),
    ...(same(before.frames, after.frames) ? [] : [`Sites that may show pages in a frame: ${after.frames.join(", ") || "none"}.`]),
    ...(same(before.portal, after.portal) ? [] : ["The portal's name, language or time zone changes."]),
  ];
}
