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
import { type OfficePortal, officePortal } from "@/identity/requests/office-gate";
import { hashPassphrase } from "@/identity/requests/passphrase";
import { whole, word, yes } from "@/identity/requests/takes";
import { draftAction, officeAction, officeCall, unread } from "@/office/action";
import { changeInDraft, type DraftAnswer } from "@/office/draft";

const id = z.string().min(1).max(64);
/** Ids of what is new: as short as they may be and still nobody else's. */
const fresh = (): string => newId().replaceAll("-", "").slice(8);

const schemaOf = (p: OfficePortal) => p.live.policy.schema;

export type Made = DraftAnswer & { id?: string };

const newPage = z.object({ name: z.string().trim().min(1, "Give the page a name.").max(80), about: id.nullable() });

export const makePage = officeAction("build", [whole, newPage], (p, seen, { name, about }): Made => {
  const page = `p-${fresh()}`;
  const done = changeInDraft(p, seen, (d) => addPage(d, page, name, about, schemaOf(p)), `the page ${name}`);
  return done.ok ? { ...done, id: page } : done;
});

export const keepPage = draftAction("build", [pageSchema], (p, page) => ({
  what: `the page ${page.name}`,
  // Its passphrase is set by words alone, never by a hash that somebody sends.
  edit: (d) => changePage(d, { ...page, passphrase: d.pages.find((x) => x.id === page.id)?.passphrase ?? null }, schemaOf(p)),
}));

const passphraseWords = z.string().min(6, "Use at least six signs.").max(200, "Keep the words under 200 signs.");

/** Words that open a page, or none any more. What was written is not kept. */
export const keepPassphrase = officeAction(
  "build",
  [whole, id, passphraseWords.nullable()],
  async (p, seen, page, words): Promise<DraftAnswer> => {
    const passphrase = words === null ? null : await hashPassphrase(words);
    const there = allPagesOf(draftOf(p.file, p.owner).definition, schemaOf(p)).page(page);
    if (!there) return unread(["This page is gone. Load the page again."]);
    const edit = (d: Definition) => changePage(d, { ...(d.pages.find((x) => x.id === page) ?? there), passphrase }, schemaOf(p));
    return changeInDraft(p, seen, edit, "the passphrase of a page");
  },
);

export const takePageAway = draftAction("build", [id, yes], (_, page, forGood) => ({
  what: "throwing a page away",
  edit: (d) => removePage(d, page, forGood),
}));
export const bringPageBack = draftAction("build", [id], (_, page) => ({
  what: "bringing a page back",
  edit: (d) => bringBackPage(d, page),
}));
export const makeCopy = draftAction("build", [id], (p, page) => ({
  what: "a copy of a page",
  edit: (d) => copyPage(d, page, () => `p-${fresh()}`, schemaOf(p)),
}));

/** What another portal of the agency has to copy from: as it is in its draft. */
export interface Elsewhere {
  readonly id: string;
  readonly name: string;
  readonly sections: readonly { readonly id: string; readonly name: string }[];
}
export const pagesElsewhere = officeCall("build", [word], async (_, other): Promise<Elsewhere[]> => {
  const from = await officePortal(other, "build");
  const schema = schemaOf(from);
  const book = allPagesOf(draftOf(from.file, from.owner).definition, schema);
  return book.pages.map((page) => ({
    id: page.id,
    name: page.name,
    sections: book.sections(page.id).map((s) => ({ id: s.id, name: s.title || SECTION_KINDS[s.kind].name })),
  }));
});

export type CarriedHere = DraftAnswer & { lost?: readonly string[] };
const carrying = z.object({ from: id, page: id, section: id.nullable(), onto: id.nullable() });

/** A page, or a section onto a page here. What it is made of is found again by name; what is not is told. */
export const carryHere = officeAction("build", [whole, carrying], async (p, seen, given): Promise<CarriedHere> => {
  const { page, section, onto } = given;
  const other = await officePortal(given.from, "build");
  const from = { definition: draftOf(other.file, other.owner).definition, schema: schemaOf(other) };
  let carried: Carried | null = null;
  const done = changeInDraft(
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
});

const adding = z.object({ page: id, kind: z.enum(KINDS), after: id.nullable(), table: id.nullable(), about: id.nullable() });

export const putSection = officeAction("build", [whole, adding], (p, seen, { page, kind, after, table, about }): Made => {
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
  const done = changeInDraft(p, seen, (d) => addSection(d, section, after, schema), `the section ${name}`);
  return done.ok ? { ...done, id: section.id } : done;
});

export const keepSection = draftAction("build", [sectionSchema], (p, s) => ({
  what: `the section ${s.title || SECTION_KINDS[s.kind].name}`,
  edit: (d) => changeSection(d, s, schemaOf(p)),
}));

const placing = z.object({ page: id, section: id, after: id.nullable() });
export const placeSection = draftAction("build", [placing], (p, { page, section, after }) => ({
  what: "the order of a page",
  edit: (d) => moveSection(d, page, section, after, schemaOf(p)),
}));
export const dropSection = draftAction("build", [id, id], (p, page, section) => ({
  what: "taking a section away",
  edit: (d) => removeSection(d, page, section, schemaOf(p)),
}));
export const doubleSection = draftAction("build", [id, id], (p, page, section) => ({
  what: "a copy of a section",
  edit: (d) => copySection(d, page, section, `s-${fresh()}`, schemaOf(p)),
}));

export const beginMenu = draftAction("build", [], (p) => ({
  what: "a menu of one's own",
  edit: (d) => menuTaken(d, () => `n-${fresh()}`, schemaOf(p)),
}));
export const clearMenu = draftAction("build", [], () => ({
  what: "the menu as it stands by itself",
  edit: (d) => ({ ...d, navigation: [] }),
}));
export const keepEntry = draftAction("build", [navigationSchema], (_, entry) => ({
  what: "the menu",
  edit: (d) => {
    const there = d.navigation.some((n) => n.id === entry.id);
    return {
      ...d,
      navigation: there ? d.navigation.map((n) => (n.id === entry.id ? { ...entry, place: n.place } : n)) : [...d.navigation, entry],
    };
  },
}));

const newEntry = z
  .object({ name: z.string().trim(), page: z.string().optional(), address: z.string().optional(), group: z.literal(true).optional() })
  // A page has a name of its own, which an entry without one shows.
  .refine((e) => e.page !== undefined || e.name !== "", "Give the entry a name.")
  .transform(({ name, page, address }): z.input<typeof navigationSchema> => {
    const leads: z.input<typeof navigationSchema>["leads"] = page
      ? { to: "page", page }
      : address
        ? { to: "address", address }
        : { to: "group" };
    return { id: `n-${fresh()}`, place: "a0", group: null, name, audience: EVERYBODY, leads };
  })
  .pipe(navigationSchema);
export const addEntry = draftAction("build", [newEntry], (_, entry) => ({
  what: "the menu",
  edit: (d) => ({
    ...d,
    navigation: [...d.navigation, { ...entry, place: generateKeyBetween(inOrder(d.navigation).at(-1)?.place ?? null, null) }],
  }),
}));
export const shiftEntry = draftAction("build", [id, z.literal([-1, 1])], (_, entry, by) => ({
  what: "the order of the menu",
  edit: (d) => moveEntry(d, entry, by),
}));
export const dropEntry = draftAction("build", [id], (_, entry) => ({
  what: "taking an entry off the menu",
  edit: (d) => ({
    ...d,
    navigation: d.navigation.filter((n) => n.id !== entry).map((n) => (n.group === entry ? { ...n, group: null } : n)),
  }),
}));
export const keepLanding = draftAction("build", [id, id.nullable()], (p, role, page) => ({
  what: "where a role lands",
  edit: (d) => {
    const { [role]: _was, ...rest } = d.landing;
    // Where a role landed on a table's list by an earlier setting of the doors, home is said.
    const home = doorSettings(p.file).landing[role] === undefined ? rest : { ...rest, [role]: { page: HOME } };
    return { ...d, landing: page === null ? home : { ...rest, [role]: { page } } };
  },
}));
