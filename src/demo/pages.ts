/** Fernhill's own pages: a home with what waits, a board of requests, a calendar of due dates, pictures of signs. The rest follows the grants. */
import { generateNKeysBetween } from "fractional-indexing";
import { EVERYBODY, type Navigation, NO_PAGES, type Page, type Pages } from "@/core/pages/page";
import { HOME, laidOut, listPageId, sheetPageId } from "@/core/pages/ready";
import type { Condition } from "@/core/schema/condition";
import { type Field, fieldBySlug, type Schema, type Table } from "@/core/schema/types";
import { sourceOf } from "@/core/sections/kind";
import { PLAIN_LIST } from "@/core/sections/list";
import { PLAIN_SHEET } from "@/core/sections/sheet";

const page = (id: string, name: string, address: string, about: string | null = null): Page => ({
  id,
  name,
  address,
  about,
  audience: EVERYBODY,
  passphrase: null,
});

export function demoPages(schema: Schema): Pages {
  const table = (slug: string): Table => schema.tableBySlug(slug)!;
  const field = (slug: string, name: string): Field => fieldBySlug(table(slug), name)!;
  const id = (slug: string, name: string): string => field(slug, name).id;
  const test = (slug: string, name: string, operator: "is" | "is-not" | "any-of", ...words: string[]): Condition => {
    const ids = words.map((w) => field(slug, name).options.choices!.find((c) => c.name === w)!.id);
    return {
      kind: "test",
      path: [id(slug, name)],
      operator,
      operands: [{ kind: "literal", value: operator === "any-of" ? ids : ids[0]! }],
    };
  };
  const few = { ...PLAIN_LIST, look: "few" as const, size: 5, search: false, downloads: false };
  const newest = (slug: string, name: string) => [{ field: id(slug, name), descending: true }];
  const soonest = (slug: string, name: string) => [{ field: id(slug, name), descending: false }];
  const columns = (slug: string, ...names: string[]) => names.map((n) => ({ field: id(slug, n) }));

  const waiting = test("proofs", "decision", "is", "Waiting");
  const open = test("requests", "status", "is-not", "Closed");
  const due = test("invoices", "status", "any-of", "Open", "Overdue");
  const going = test("projects", "stage", "is-not", "Done");

  const home = laidOut(page(HOME, "Home", ""), [
    { kind: "welcome", config: {} },
    {
      kind: "figures",
      config: {
        items: [
          {
            id: "waiting",
            name: "Proofs to decide on",
            source: sourceOf(table("proofs").id, waiting),
            measure: "count",
            of: null,
            monthly: null,
          },
          {
            id: "going",
            name: "Projects under way",
            source: sourceOf(table("projects").id, going),
            measure: "count",
            of: null,
            monthly: null,
          },
          { id: "open", name: "Open requests", source: sourceOf(table("requests").id, open), measure: "count", of: null, monthly: null },
          {
            id: "due",
            name: "To be paid",
            source: sourceOf(table("invoices").id, due),
            measure: "sum",
            of: id("invoices", "amount"),
            monthly: null,
          },
        ],
      },
    },
    {
      kind: "list",
      title: "Proofs that wait for you",
      width: 7,
      config: {
        source: sourceOf(table("proofs").id, waiting, soonest("proofs", "sent")),
        ...few,
        columns: columns("proofs", "sent"),
        acts: ["approve"],
        adds: false,
        empty: "None waits: everything is decided.",
      },
    },
    {
      kind: "list",
      title: "Projects",
      width: 5,
      config: { source: sourceOf(table("projects").id, going, soonest("projects", "due")), ...few, columns: columns("projects", "stage") },
    },
    {
      kind: "list",
      title: "Requests",
      width: 7,
      config: {
        source: sourceOf(table("requests").id, open, newest("requests", "asked-on")),
        ...few,
        columns: columns("requests", "status"),
      },
    },
    {
      kind: "list",
      title: "Invoices",
      width: 5,
      config: {
        source: sourceOf(table("invoices").id, null, newest("invoices", "issued")),
        ...few,
        columns: columns("invoices", "amount", "status"),
      },
    },
    {
      kind: "chart",
      title: "What was spent",
      width: 7,
      config: {
        source: sourceOf(table("invoices").id),
        shape: "bars",
        by: id("invoices", "issued"),
        measure: "sum",
        of: id("invoices", "amount"),
      },
    },
    {
      kind: "chart",
      title: "Signs by stage",
      width: 5,
      config: { source: sourceOf(table("signs").id), shape: "bars", by: id("signs", "stage"), measure: "count", of: null },
    },
    { kind: "list", title: "Sites", width: 6, config: { source: sourceOf(table("sites").id), ...few, size: 4 } },
    {
      kind: "list",
      title: "Documents",
      width: 6,
      config: { source: sourceOf(table("documents").id), ...few, size: 4, columns: columns("documents", "kind") },
    },
    {
      kind: "list",
      title: "Signs",
      config: {
        source: sourceOf(table("signs").id, null, newest("signs", "fitted")),
        ...few,
        size: 6,
        columns: columns("signs", "type", "stage"),
      },
      audience: { ...EVERYBODY, roles: ["project-lead", "workshop"] },
    },
  ]);
  const board = laidOut(page("request-board", "Request board", "request-board"), [
    {
      kind: "list",
      config: {
        source: sourceOf(table("requests").id, null, newest("requests", "asked-on")),
        ...PLAIN_LIST,
        look: "board",
        by: id("requests", "status"),
        columns: columns("requests", "kind", "urgency", "site"),
        filters: [id("requests", "urgency")],
        downloads: false,
      },
    },
  ]);
  const dates = laidOut(page("due-dates", "Due dates", "due-dates"), [
    {
      kind: "list",
      config: {
        source: sourceOf(table("projects").id),
        ...PLAIN_LIST,
        look: "calendar",
        by: id("projects", "due"),
        search: false,
        filters: [id("projects", "stage")],
        downloads: false,
        adds: false,
      },
    },
  ]);
  const pictures = laidOut(page("photographs", "Photographs", "photographs"), [
    {
      kind: "list",
      config: {
        source: sourceOf(table("signs").id, test("signs", "stage", "is", "Fitted"), newest("signs", "fitted")),
        ...PLAIN_LIST,
        look: "gallery",
        by: id("signs", "photo"),
        size: 24,
        filters: [id("signs", "type"), id("signs", "material")],
        downloads: false,
        adds: false,
      },
    },
  ]);
  const sheetOf = (slug: string) => page(sheetPageId(table(slug).id), table(slug).singular, slug, table(slug).id);
  const proof = laidOut(sheetOf("proofs"), [
    { kind: "sheet", config: { ...PLAIN_SHEET, acts: ["approve", "send-back"], inPlace: true } },
    { kind: "history", config: { fields: null } },
  ]);
  const request = laidOut(sheetOf("requests"), [
    { kind: "sheet", config: { ...PLAIN_SHEET, columns: 2, labels: "above", inPlace: true } },
    { kind: "conversation", config: {} },
    { kind: "history", config: { fields: null } },
  ]);
  const laid = [home, board, dates, pictures, proof, request];
  const lists = ["sites", "projects", "signs", "proofs", "requests", "invoices", "documents"];
  const more = [
    "due-dates",
    "request-board",
    "photographs",
    ...["standards", "price-book", "companies", "people"].map((slug) => listPageId(table(slug).id)),
  ];
  const names: Record<string, string> = { "due-dates": "Due dates", "request-board": "Request board", photographs: "Photographs" };
  const entry = (at: string, name: string, leads: Navigation["leads"], group: string | null = null): Omit<Navigation, "place"> => ({
    id: `n-${at}`,
    group,
    name,
    audience: EVERYBODY,
    leads,
  });
  const entries = [
    { ...entry("home", "Home", { to: "page", page: HOME }), audience: { ...EVERYBODY, states: ["in" as const] } },
    ...lists.map((slug) => entry(slug, table(slug).name, { to: "page", page: listPageId(table(slug).id) })),
    entry("more", "More", { to: "group" }),
    ...more.map((id) => entry(id, names[id] ?? schema.table(id.replace("list-", "")).name, { to: "page", page: id }, "n-more")),
  ];
  const places = generateNKeysBetween(null, null, entries.length);
  const navigation = entries.map((e, i): Navigation => ({ ...e, place: places[i]! }));
  return { ...NO_PAGES, navigation, pages: laid.map((l) => l.page), sections: laid.flatMap((l) => l.sections) };
}
