"use server";
/** Laying out pages: every change goes into the draft at once, as a step that can be undone. */
import { generateKeyBetween } from "fractional-indexing";
import { z } from "zod";
import type { Definition } from "@/core/definition/definition";
import { type Carried, carryPage, carrySection } from "@/core/editing/carry";
import {
  addPage,
  addSection,
  bringBackPage,
  changePage,
  changeSection,
  copyPage,
  copySection,
  menuTaken,
  moveEntry,
  moveSection,
  removePage,
  removeSection,
} from "@/core/editing/edit";
import { allPagesOf } from "@/core/pages/all-pages";
import { beginConfig } from "@/core/pages/begin";
import { EVERYBODY, inOrder, navigationSchema, pageSchema, type Section, sectionSchema } from "@/core/pages/page";
import { HOME } from "@/core/pages/ready";
import { KINDS, SECTION_KINDS } from "@/core/sections";
import { copyPictures } from "@/data/brand/pictures";
import { draftOf } from "@/data/definition/draft";
import { newId } from "@/data/file/ids";
import { doorSettings } from "@/identity/doors/settings";
import { type OfficePortal, officePortal, officePortalWrite } from "@/identity/requests/office-gate";
import { hashPassphrase } from "@/identity/requests/passphrase";
import { changeInDraft, type DraftAnswer } from "@/office/draft";

const id = z.string().min(1).max(64);
const revision = z.number().int();
const unread: DraftAnswer = { ok: false, messages: ["This could not be read. Load the page again."] };

/** Ids of what is new: as short as they may be and still nobody else's. */
const fresh = (): string => newId().replaceAll("-", "").slice(8);

const schemaOf = (p: OfficePortal) => p.live.policy.schema;

async function edit(
  slug: string,
  seen: number,
  what: string,
  change: (d: Definition, p: OfficePortal) => Definition,
): Promise<DraftAnswer> {
  const p = await officePortalWrite(slug, "build");
  if (!revision.safeParse(seen).success) return unread;
  return changeInDraft(p, seen, (d) => change(d, p), what);
}

export type Made = DraftAnswer & { id?: string };

export async function makePage(slug: string, seen: number, input: { name: string; about: string | null }): Promise<Made> {
  const parsed = z.object({ name: z.string().trim().min(1, "Give the page a name.").max(80), about: id.nullable() }).safeParse(input);
  if (!parsed.success) return { ok: false, messages: [parsed.error.issues[0]!.message] };
  const page = `p-${fresh()}`;
  const done = await edit(slug, seen, `the page ${parsed.data.name}`, (d, p) =>
    addPage(d, page, parsed.data.name, parsed.data.about, schemaOf(p)),
  );
  return done.ok ? { ...done, id: page } : done;
}

export async function keepPage(slug: string, seen: number, input: unknown): Promise<DraftAnswer> {
  const parsed = pageSchema.safeParse(input);
  if (!parsed.success) return { ok: false, messages: [...new Set(parsed.error.issues.map((i) => i.message))] };
  // Its passphrase is set by words alone, never by a hash that somebody sends.
  return edit(slug, seen, `the page ${parsed.data.name}`, (d, p) =>
    changePage(d, { ...parsed.data, passphrase: d.pages.find((x) => x.id === parsed.data.id)?.passphrase ?? null }, schemaOf(p)),
  );
}

/** Words that open a page, or none any more. What was written is not kept. */
export async function keepPassphrase(slug: string, seen: number, page: string, words: string | null): Promise<DraftAnswer> {
  const p = await officePortalWrite(slug, "build");
  const parsed = z.string().min(6, "Use at least six signs.").max(200, "Keep the words under 200 signs.").nullable().safeParse(words);
  if (!parsed.success || !id.safeParse(page).success)
    return { ok: false, messages: [parsed.error?.issues[0]?.message ?? "Load the page again."] };
  const passphrase = parsed.data === null ? null : await hashPassphrase(parsed.data);
  const there = allPagesOf(draftOf(p.file, p.owner).definition, schemaOf(p)).page(page);
  if (!there) return unread;
  return edit(slug, seen, "the passphrase of a page", (d) =>
    changePage(d, { ...(d.pages.find((x) => x.id === page) ?? there), passphrase }, schemaOf(p)),
  );
}

export async function takePageAway(slug: string, seen: number, page: string, forGood: boolean): Promise<DraftAnswer> {
  if (!id.safeParse(page).success) return unread;
  return edit(slug, seen, "throwing a page away", (d) => removePage(d, page, forGood === true));
}
export async function bringPageBack(slug: string, seen: number, page: string): Promise<DraftAnswer> {
  if (!id.safeParse(page).success) return unread;
  return edit(slug, seen, "bringing a page back", (d) => bringBackPage(d, page));
}
export async function makeCopy(slug: string, seen: number, page: string): Promise<DraftAnswer> {
  if (!id.safeParse(page).success) return unread;
  return edit(slug, seen, "a copy of a page", (d, p) => copyPage(d, page, () => `p-${fresh()}`, schemaOf(p)));
}

/** What another portal of the agency has to copy from: as it is in its draft. */
export interface Elsewhere {
  readonly id: string;
  readonly name: string;
  readonly sections: readonly { readonly id: string; readonly name: string }[];
}
export async function pagesElsewhere(slug: string, other: string): Promise<Elsewhere[]> {
  await officePortal(slug, "build");
  const from = await officePortal(String(other), "build");
  const schema = schemaOf(from);
  const book = allPagesOf(draftOf(from.file, from.owner).definition, schema);
  return book.pages.map((page) => ({
    id: page.id,
    name: page.name,
    sections: book.sections(page.id).map((s) => ({ id: s.id, name: s.title || SECTION_KINDS[s.kind].name })),
  }));
}

export type CarriedHere = DraftAnswer & { lost?: readonly string[] };
const carrying = z.object({ from: id, page: id, section: id.nullable(), onto: id.nullable() });

/** A page, or a section onto a page here. What it is made of is found again by name; what is not is told. */
export async function carryHere(slug: string, seen: number, input: z.infer<typeof carrying>): Promise<CarriedHere> {
  const parsed = carrying.safeParse(input);
  if (!parsed.success || !revision.safeParse(seen).success) return unread;
  const { page, section, onto } = parsed.data;
  const p = await officePortalWrite(slug, "build");
  const other = await officePortal(parsed.data.from, "build");
  const from = { definition: draftOf(other.file, other.owner).definition, schema: schemaOf(other) };
  let carried: Carried | null = null;
  const done = await changeInDraft(
    p,
    seen,
    (definition) => {
      const to = { definition, schema: schemaOf(p) };
      carried =
        section && onto ? carrySection(from, to, section, onto, () => `s-${fresh()}`) : carryPage(from, to, page, () => `p-${fresh()}`);
      return carried?.definition ?? definition;
    },
    section ? "a section from another portal" : "a page from another portal",
  );
  const got = carried as Carried | null;
  if (!got) return { ok: false, messages: ["It cannot stand here: there is no such page any more, or its table has no counterpart."] };
  if (done.ok) copyPictures(other.file, p.file, JSON.stringify(got.definition.sections));
  return done.ok ? { ...done, lost: got.lost } : done;
}

const adding = z.object({ page: id, kind: z.enum(KINDS), after: id.nullable(), table: id.nullable(), about: id.nullable() });

export async function putSection(slug: string, seen: number, input: z.infer<typeof adding>): Promise<Made> {
  const parsed = adding.safeParse(input);
  if (!parsed.success) return unread;
  const { page, kind, after, table, about } = parsed.data;
  const p = await officePortalWrite(slug, "build");
  const schema = schemaOf(p);
  const { grants } = draftOf(p.file, p.owner).definition;
  const config = beginConfig(kind, { schema, grants, table, about: about ? (schema.findTable(about) ?? null) : null });
  const { name } = SECTION_KINDS[kind];
  if (!config) return { ok: false, messages: [`There is nothing here yet that “${name}” could be made of.`] };
  const width = kind === "chart" ? 6 : 12;
  const section = {
    id: `s-${fresh()}`,
    page,
    place: "a0",
    title: "",
    width,
    breaks: false,
    audience: EVERYBODY,
    record: null,
    reader: null,
    kind,
    config,
  } as Section;
  const done = await edit(slug, seen, `the section ${name}`, (d) => addSection(d, section, after, schema));
  return done.ok ? { ...done, id: section.id } : done;
}

export async function keepSection(slug: string, seen: number, input: unknown): Promise<DraftAnswer> {
  const parsed = sectionSchema.safeParse(input);
  if (!parsed.success) return { ok: false, messages: [...new Set(parsed.error.issues.map((i) => i.message))].slice(0, 5) };
  const s = parsed.data;
  return edit(slug, seen, `the section ${s.title || SECTION_KINDS[s.kind].name}`, (d, p) => changeSection(d, s, schemaOf(p)));
}

const placing = z.object({ page: id, section: id, after: id.nullable() });
export async function placeSection(slug: string, seen: number, input: z.infer<typeof placing>): Promise<DraftAnswer> {
  const parsed = placing.safeParse(input);
  if (!parsed.success) return unread;
  return edit(slug, seen, "the order of a page", (d, p) =>
    moveSection(d, parsed.data.page, parsed.data.section, parsed.data.after, schemaOf(p)),
  );
}
export async function dropSection(slug: string, seen: number, page: string, section: string): Promise<DraftAnswer> {
  if (!id.safeParse(page).success || !id.safeParse(section).success) return unread;
  return edit(slug, seen, "taking a section away", (d, p) => removeSection(d, page, section, schemaOf(p)));
}
export async function doubleSection(slug: string, seen: number, page: string, section: string): Promise<DraftAnswer> {
  if (!id.safeParse(page).success || !id.safeParse(section).success) return unread;
  return edit(slug, seen, "a copy of a section", (d, p) => copySection(d, page, section, `s-${fresh()}`, schemaOf(p)));
}

export async function beginMenu(slug: string, seen: number): Promise<DraftAnswer> {
  return edit(slug, seen, "a menu of one's own", (d, p) => menuTaken(d, () => `n-${fresh()}`, schemaOf(p)));
}
export async function clearMenu(slug: string, seen: number): Promise<DraftAnswer> {
  return edit(slug, seen, "the menu as it stands by itself", (d) => ({ ...d, navigation: [] }));
}
export async function keepEntry(slug: string, seen: number, input: unknown): Promise<DraftAnswer> {
  const parsed = navigationSchema.safeParse(input);
  if (!parsed.success) return { ok: false, messages: [...new Set(parsed.error.issues.map((i) => i.message))] };
  const entry = parsed.data;
  return edit(slug, seen, "the menu", (d) => {
    const there = d.navigation.some((n) => n.id === entry.id);
    return {
      ...d,
      navigation: there ? d.navigation.map((n) => (n.id === entry.id ? { ...entry, place: n.place } : n)) : [...d.navigation, entry],
    };
  });
}
export async function addEntry(
  slug: string,
  seen: number,
  input: { name: string; page?: string; address?: string; group?: true },
): Promise<DraftAnswer> {
  const leads = input.page ? { to: "page", page: input.page } : input.address ? { to: "address", address: input.address } : { to: "group" };
  const entry = navigationSchema.safeParse({ id: `n-${fresh()}`, place: "a0", group: null, name: input.name, audience: EVERYBODY, leads });
  if (!entry.success) return { ok: false, messages: [...new Set(entry.error.issues.map((i) => i.message))] };
  return edit(slug, seen, "the menu", (d) => ({
    ...d,
    navigation: [...d.navigation, { ...entry.data, place: generateKeyBetween(inOrder(d.navigation).at(-1)?.place ?? null, null) }],
  }));
}
export async function shiftEntry(slug: string, seen: number, entry: string, by: -1 | 1): Promise<DraftAnswer> {
  return edit(slug, seen, "the order of the menu", (d) => moveEntry(d, String(entry), by === 1 ? 1 : -1));
}
export async function dropEntry(slug: string, seen: number, entry: string): Promise<DraftAnswer> {
  return edit(slug, seen, "taking an entry off the menu", (d) => ({
    ...d,
    navigation: d.navigation.filter((n) => n.id !== entry).map((n) => (n.group === entry ? { ...n, group: null } : n)),
  }));
}
export async function keepLanding(slug: string, seen: number, role: string, page: string | null): Promise<DraftAnswer> {
  if (!id.safeParse(role).success || !(page === null || id.safeParse(page).success)) return unread;
  return edit(slug, seen, "where a role lands", (d, p) => {
    const { [role]: _was, ...rest } = d.landing;
    // Where a role landed on a table's list by an earlier setting of the doors, home is said.
    const home = doorSettings(p.file).landing[role] === undefined ? rest : { ...rest, [role]: { page: HOME } };
    return { ...d, landing: page === null ? home : { ...rest, [role]: { page } } };
  });
}
