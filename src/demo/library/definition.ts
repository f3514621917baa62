/** Who may do what in the library, what it sells, its pages and its look: other than Fernhill's in every choice that Brand has. */
import { generateNKeysBetween } from "fractional-indexing";
import { type Action, everyoneRole } from "@/core/access/rules";
import type { Definition } from "@/core/definition/definition";
import { EVERYBODY, type Navigation, NO_PAGES, type Page } from "@/core/pages/page";
import { HOME, laidOut, listPageId, sheetPageId } from "@/core/pages/ready";
import { type Condition, SELF } from "@/core/schema/condition";
import { fieldBySlug, type Schema } from "@/core/schema/types";
import { sourceOf } from "@/core/sections/kind";
import { PLAIN_LIST } from "@/core/sections/list";
import { PLAIN_SHEET } from "@/core/sections/sheet";
import type { LibraryTables } from "./tables";

const page = (id: string, name: string, address: string, about: string | null = null): Page => ({
  id,
  name,
  address,
  about,
  audience: EVERYBODY,
  passphrase: null,
});

const price = (plan: string, cycle: "month" | "year", amount: number): Definition["prices"][number] => ({
  id: `${plan}-${cycle}`,
  plan,
  cycle,
  per: plan === "crew" ? "seat" : "company",
  amount,
  least: plan === "crew" ? 3 : 1,
  trialDays: 14,
  setup: 0,
  retired: false,
});

export function libraryDefinition(schema: Schema, t: LibraryTables): Definition {
  const field = (table: string, slug: string): string => fieldBySlug(schema.table(table), slug)!.id;
  const all = (table: string): string[] => schema.table(table).fields.map((f) => f.id);
  const free: Condition = {
    kind: "test",
    path: [field(t.details, "free")],
    operator: "is",
    operands: [{ kind: "literal", value: true }],
  };
  const bought: Condition = {
    kind: "test",
    path: [SELF],
    operator: "any-of",
    operands: [{ kind: "viewer", of: "bought", field: null }],
  };
  let n = 0;
  const grant = (
    roles: string[],
    table: string,
    actions: Action[],
    fields: string[],
    more: Partial<Definition["grants"][number]> = {},
  ) => ({
    id: `g_${++n}`,
    roles,
    table,
    actions,
    filter: null,
    fields,
    changes: [],
    feature: null,
    validFrom: null,
    validUntil: null,
    ...more,
  });
  const titles = ["title", "collection", "fixing", "free"].map((s) => field(t.details, s));
  const staff = (table: string) =>
    grant(["editor"], table, ["see", "add", "change", "remove", "export"], all(table), { changes: all(table) });
  return {
    portal: { name: "Detail Library", locale: "en-IE", timeZone: "Europe/Dublin", currency: "EUR" },
    roles: [
      { id: "editor", name: "Editor", side: "agency", includes: [], about: "Draws the details and looks after the library." },
      { ...everyoneRole, includes: [] },
      {
        id: "newcomer",
        name: "Without a plan",
        side: "client",
        includes: [],
        about: "Whoever's firm has none yet: the free details, and the way to one.",
      },
      { id: "fitter", name: "Fitter", side: "client", includes: [], about: "Reads what the firm's plan opens." },
      { id: "firm-lead", name: "Lead", side: "client", includes: ["fitter"], about: "Answers for the firm and its plan." },
      { id: "visitor", name: "Visitor", side: "visitor", includes: [], about: "Anybody who is not signed in." },
    ],
    walls: {
      t_companies: { kind: "owned", path: [] },
      t_people: { kind: "owned", path: ["f_person_companies"] },
      [t.collections]: { kind: "shared" },
      [t.details]: { kind: "shared" },
    },
    grants: [
      grant(["visitor", "newcomer", "fitter"], t.collections, ["see"], all(t.collections)),
      // What another plan would open is known by its title; whoever has the plan reads it.
      grant(["visitor", "newcomer", "fitter"], t.details, ["see"], titles),
      grant(["visitor", "newcomer", "fitter"], t.details, ["see"], all(t.details), { filter: free }),
      grant(["fitter"], t.details, ["see"], all(t.details), { feature: "library" }),
      // A single detail that was bought is open whatever the plan.
      grant(["newcomer", "fitter"], t.details, ["see"], all(t.details), { filter: bought }),
      grant(["fitter"], "t_companies", ["see"], [field("t_companies", "name")]),
      grant(
        ["firm-lead"],
        "t_people",
        ["see"],
        ["name", "email", "status"].map((s) => field("t_people", s)),
      ),
      staff(t.collections),
      staff(t.details),
    ],
    acts: [],
    safeguards: [
      {
        id: "visitors-people",
        subject: { kind: "side", side: "visitor" },
        table: "t_people",
        claim: { kind: "nothing", action: "see" },
      },
    ],
    features: [{ id: "library", name: "the whole library" }],
    plans: [
      { id: "bench", name: "Bench", about: "For one person.", features: ["library"], allowances: [], seats: 1, offered: "all" },
      {
        id: "crew",
        name: "Crew",
        about: "For a firm, by the seat; three at least.",
        features: ["library"],
        allowances: [],
        seats: null,
        offered: "all",
      },
    ],
    prices: [price("bench", "month", 1_500), price("bench", "year", 15_000), price("crew", "month", 1_100), price("crew", "year", 11_000)],
    billing: {
      tax: { mode: "inclusive", rates: [{ id: "vat-ie", country: "IE", name: "VAT", rate: 2_300 }] },
      grace: 5,
      payers: ["firm-lead"],
      planFirst: true,
      unpaid: "newcomer",
      numbers: "DL-",
    },
    offers: [
      {
        id: "handbook",
        name: "Handbook of fixings",
        about: "All tables of loads and depths, to keep. For anybody.",
        price: 2400,
        buyer: "anybody",
        opens: { kind: "order" },
        retired: false,
      },
      {
        id: "one-detail",
        name: "One detail",
        about: "A single drawing with its figures.",
        price: 400,
        buyer: "company",
        opens: { kind: "record", table: t.details, days: null },
        retired: false,
      },
    ],
    ...pages(schema, t),
    brand: {
      colour: "#e3b04b",
      ground: "#171b20",
      monogram: "DL",
      motto: "Every wall has been drilled before.",
      contact: "library@fernhill.example",
      logo: null,
      head: "line",
      titles: "literata",
      text: "figtree",
      density: "airy",
      corners: "square",
      signIn: { kind: "behind", picture: null, welcome: "Twenty-four ways to fix a sign, drawn and measured." },
      footer: "Detail Library, a drawer at Fernhill Wayfinding",
    },
  };
}

function pages(schema: Schema, t: LibraryTables) {
  const id = (slug: string): string => fieldBySlug(schema.table(t.details), slug)!.id;
  const newest = [{ field: id("drawn"), descending: true }];
  const details = { ...PLAIN_LIST, reads: true, columns: ["fixing", "load", "depth"].map((s) => ({ field: id(s) })), downloads: false };
  const home = laidOut(page(HOME, "Library", ""), [
    {
      kind: "text",
      title: "How a sign is fixed",
      config: {
        body: [
          {
            type: "paragraph",
            content: [
              {
                type: "text",
                text: "Each detail is a drawing, a load and the figures that go with it. Two of every collection are free; the rest opens with a plan.",
              },
            ],
          },
        ],
      },
    },
    {
      kind: "links",
      config: { look: "buttons", items: [{ id: "all", name: "All details", target: { to: "page", page: listPageId(t.details) } }] },
    },
    {
      kind: "list",
      title: "Collections",
      config: {
        source: sourceOf(t.collections),
        ...PLAIN_LIST,
        look: "gallery",
        by: fieldBySlug(schema.table(t.collections), "cover")!.id,
        search: false,
        downloads: false,
      },
    },
    {
      kind: "list",
      title: "Drawn last",
      config: { source: sourceOf(t.details, null, newest), ...details, look: "gallery", by: id("drawing"), size: 8, search: false },
    },
  ]);
  const all = laidOut(page(listPageId(t.details), "Details", "details"), [
    { kind: "list", config: { source: sourceOf(t.details, null, newest), ...details, look: "cards", filters: [id("fixing")], size: 24 } },
  ]);
  const sheet = laidOut(page(sheetPageId(t.details), "Detail", "details", t.details), [
    { kind: "sheet", config: { ...PLAIN_SHEET, columns: 2, labels: "above", empty: "hidden" } },
  ]);
  const collection = laidOut(page(sheetPageId(t.collections), "Collection", "collections", t.collections), [
    { kind: "sheet", config: { ...PLAIN_SHEET, empty: "hidden" } },
    {
      kind: "related",
      title: "Details",
      config: { source: sourceOf(t.details), through: id("collection"), ...details, look: "cards", search: false, adds: false, size: 24 },
    },
  ]);
  const entries = [
    ["library", "Library", HOME],
    ["details", "Details", listPageId(t.details)],
    ["collections", "Collections", listPageId(t.collections)],
  ] as const;
  const places = generateNKeysBetween(null, null, entries.length);
  const navigation = entries.map(
    ([key, name, to], i): Navigation => ({
      id: `n-${key}`,
      place: places[i]!,
      group: null,
      name,
      audience: EVERYBODY,
      leads: { to: "page", page: to },
    }),
  );
  const laid = [home, all, sheet, collection];
  return { ...NO_PAGES, navigation, pages: laid.map((l) => l.page), sections: laid.flatMap((l) => l.sections) };
}
