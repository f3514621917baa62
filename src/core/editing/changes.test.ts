import { expect, it } from "vitest";
import { emptyDefinition } from "@/data/installation/portals";
import { makeTestSchema, memoryPortal } from "@/testing/world";
import type { Definition } from "../definition/definition";
import { allPagesOf } from "../pages/all-pages";
import { EVERYBODY, type Section } from "../pages/page";
import { brandChanges, pageChanges } from "./changes";
import { addPage, addSection, changePage, changeSection, removePage, removeSection } from "./edit";

const { schema, t } = makeTestSchema(memoryPortal());
const grants = [
  { id: "g", roles: ["lead"], table: t.sites, actions: ["see" as const], filter: null, fields: [], changes: [], feature: null },
];
const d: Definition = { ...emptyDefinition("Test"), grants };
const list = `list-${t.sites}`;
const words = (after: Definition, before = d) => pageChanges(before, after, schema).map((c) => c.words);

it("tells of pages, sections, menu and landing in sentences, and of nothing where nothing changed", () => {
  expect(words(d)).toEqual([]);
  const page = allPagesOf(d, schema).page(list)!;
  expect(words(changePage(d, { ...page, name: "Places", audience: { ...EVERYBODY, states: ["in"] } }, schema))).toEqual([
    "The page Sites is called Places.",
    "Places is for others than before.",
  ]);
  const s = allPagesOf(d, schema).sections(list)[0]!;
  const next = { ...s, title: "Ours", config: { ...(s.config as object), size: 10 } } as unknown as Section;
  expect(words(changeSection(d, next, schema))).toEqual(["Sites: “Ours” has another title and shows something else."]);
  expect(words(removeSection(d, list, s.id, schema))).toEqual(["Sites: “Sites” is taken away."]);
  const added = addSection(addPage(d, "p", "Notes", null, schema), { ...next, id: "n", page: list } as Section, null, schema);
  expect(words(added)).toEqual(["Sites: “Ours” is new.", "A new page, Notes, at /notes."]);
  expect(words(removePage(d, list, true))).toEqual(["The page Sites is thrown away."]);
  expect(words({ ...d, landing: { lead: { page: list } } })).toEqual(["Lead lands on another page after signing in."]);
  // A table that opens brings its pages with it: the grants tell of that.
  expect(words(d, { ...d, grants: [] })).toEqual([]);
});
it("names what of the brand changes", () => {
  expect(brandChanges(d, d)).toEqual([]);
  expect(brandChanges(d, { ...d, brand: { ...d.brand, colour: "#000000", corners: "round" } })).toEqual([
    "The brand changes in: colour, corners.",
  ]);
});
