/**
 * Ready-made pages: a home, and for each table that some grant opens a list and a sheet. They follow the grants until an owner changes
 * one; then it is a page like any other. Their ids are made from the table's, so two people who change the same one meet.
 */

import { generateNKeysBetween } from "fractional-indexing";
import type { Act } from "../access/act";
import type { Grant } from "../access/rules";
import { isDay, isRelation, pointsToOne } from "../schema/fields/natures";
import type { Schema, Table } from "../schema/types";
import { sourceOf } from "../sections/kind";
import { PLAIN_LIST } from "../sections/list";
import { PLAIN_SHEET } from "../sections/sheet";
import { type Audience, EVERYBODY, type Page, type Section } from "./page";

export const HOME = "home";
/** Id of the list page that a table has before anybody makes one. */
export const listPageId = (table: string): string => `list-${table}`;
/** Id of the page of one record that a table has before anybody makes one. */
export const sheetPageId = (table: string): string => `sheet-${table}`;

export interface Laid {
  readonly page: Page;
  readonly sections: readonly Section[];
}

/** Tables of which some grant shows records, in the agency's order, people and companies last. */
export function openedTables(schema: Schema, grants: readonly Grant[]): Table[] {
  const opened = new Set(grants.filter((g) => g.actions.includes("see")).map((g) => g.table));
  const open = schema.tables.filter((t) => opened.has(t.id) && t.kind !== "books");
  return [...open.filter((t) => t.kind === "ordinary"), ...open.filter((t) => t.kind !== "ordinary")];
}

const page = (id: string, name: string, address: string, about: string | null): Page => ({
  id,
  name,
  address,
  about,
  audience: EVERYBODY,
  passphrase: null,
});

type Bare = { [K in Section["kind"]]: Pick<Extract<Section, { kind: K }>, "kind" | "config"> }[Section["kind"]] & {
  width?: number;
  title?: string;
  audience?: Audience;
};

/** Sections one after the other on a page, with ids made from its own. */
export function laidOut(on: Page, sections: readonly Bare[]): Laid {
  const places = generateNKeysBetween(null, null, sections.length);
  return {
    page: on,
    sections: sections.map(
      ({ width = 12, title = "", audience = EVERYBODY, ...s }, i) =>
        ({
          id: `${on.id}-${i + 1}`,
          page: on.id,
          place: places[i]!,
          title,
          width,
          breaks: false,
          audience,
          record: null,
          reader: null,
          ...s,
        }) as Section,
    ),
  };
}

export interface Opened {
  readonly grants: readonly Grant[];
  readonly acts: readonly Act[];
}

/** The pages that a portal has without anybody laying them out: a list and a record's page of each table that a grant opens. */
export function readyPages(schema: Schema, { grants, acts }: Opened): Laid[] {
  const tables = openedTables(schema, grants);
  const granted = new Set(grants.flatMap((g) => g.acts ?? []));
  const opened = (t: Table, ...on: Act["on"][]): string[] =>
    acts.filter((a) => a.table === t.id && on.includes(a.on) && granted.has(a.id)).map((a) => a.id);
  const few = tables
    .filter((t) => t.kind === "ordinary")
    .map((t): Bare => {
      const date = t.fields.find((f) => isDay(f));
      const source = sourceOf(t.id, null, date ? [{ field: date.id, descending: true }] : []);
      return { kind: "list", width: 6, config: { source, ...PLAIN_LIST, look: "few", size: 4, search: false, downloads: false } };
    });
  return [
    laidOut(page(HOME, "Home", "", null), [{ kind: "welcome", config: {} }, ...few]),
    ...tables.flatMap((t): Laid[] => [
      laidOut(page(listPageId(t.id), t.name, t.slug, null), [
        { kind: "list", config: { source: sourceOf(t.id), ...PLAIN_LIST, acts: opened(t, "change").slice(0, 3) } },
      ]),
      laidOut(page(sheetPageId(t.id), t.singular, t.slug, t.id), [
        { kind: "sheet", config: { ...PLAIN_SHEET, acts: opened(t, "change", "accept").slice(0, 12) } },
        ...pointing(t, tables),
        ...(opened(t, "talk").length > 0 ? [{ kind: "conversation" as const, config: {} }] : []),
      ]),
    ]),
  ];
}

/** Sections for records of other tables that point to this one: the first few, with a link to all. */
function pointing(table: Table, tables: readonly Table[]): Bare[] {
  return tables.flatMap((other) =>
    other.fields
      .filter((f) => pointsToOne(f) && isRelation(f) && f.options.target === table.id)
      .map(
        (f): Bare => ({
          kind: "related",
          config: { source: sourceOf(other.id), through: f.id, ...PLAIN_LIST, search: false, downloads: false, adds: false, size: 5 },
        }),
      ),
  );
}
