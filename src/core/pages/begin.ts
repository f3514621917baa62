/** The settings that a new section begins with, so that it shows something at once from the tables that are there. */

import type { Grant } from "../access/rules";
import { choosesOne, isDated, isGrouped, isRelation, isSummed } from "../schema/fields/natures";
import type { Schema, Table } from "../schema/types";
import type { Configs, Kind } from "../sections";
import { sourceOf } from "../sections/kind";
import { PLAIN_LIST } from "../sections/list";
import { PLAIN_SHEET } from "../sections/sheet";
import { openedTables } from "./ready";

/** What a new text says, so that it can be seen; writing begins in its place. */
export const BEGINNING = "Write here.";

interface On {
  readonly schema: Schema;
  readonly grants: readonly Grant[];
  /** The table whose record the page is about. */
  readonly about: Table | null;
  /** The table that was asked for; the first that is opened otherwise. */
  readonly table: string | null;
}

/** Null where there is nothing that such a section could be made of. */
export function beginConfig<K extends Kind>(kind: K, on: On): Configs[K] | null {
  return (MAKE[kind] as (on: On) => Configs[K] | null)(on);
}

const tableFor = ({ schema, grants, table }: On): Table | undefined =>
  (table === null ? undefined : schema.findTable(table)) ??
  openedTables(schema, grants)[0] ??
  schema.tables.find((t) => t.kind === "ordinary");

const MAKE: { readonly [K in Kind]: (on: On) => Configs[K] | null } = {
  welcome: () => ({}),
  list: (on) => {
    const t = tableFor(on);
    return t ? { source: sourceOf(t.id), ...PLAIN_LIST } : null;
  },
  sheet: () => PLAIN_SHEET,
  related: ({ schema, about }) => {
    for (const t of about ? schema.tables : [])
      for (const f of t.fields)
        if (isRelation(f) && f.options.target === about!.id)
          return { source: sourceOf(t.id), through: f.id, ...PLAIN_LIST, search: false, downloads: false, adds: false, size: 5 };
    return null;
  },
  form: (on) => {
    const t = tableFor(on);
    return t ? { table: t.id, does: "add", fields: null, steps: [], fill: [], submit: "", after: { goes: "record" } } : null;
  },
  figures: (on) => {
    const t = tableFor(on);
    return t ? { items: [{ id: "f1", name: t.name, source: sourceOf(t.id), measure: "count", of: null, monthly: null }] } : null;
  },
  chart: (on) => {
    const t = tableFor(on);
    const by = t?.fields.find((f) => choosesOne(f)) ?? t?.fields.find(isDated) ?? t?.fields.find(isGrouped);
    const of = t?.fields.find(isSummed);
    return t && by
      ? {
          source: sourceOf(t.id),
          shape: "bars",
          by: by.id,
          measure: isDated(by) && of ? "sum" : "count",
          of: isDated(by) && of ? of.id : null,
        }
      : null;
  },
  text: () => ({ body: [{ type: "paragraph", content: [{ type: "text", text: BEGINNING }] }] }),
  links: () => ({ look: "buttons", items: [] }),
  conversation: () => ({}),
  history: () => ({ fields: null }),
  door: () => ({ joins: true }),
  standing: () => ({}),
  search: () => ({ tables: null }),
  notice: () => ({ words: "Say something here.", tone: "plain", from: null, until: null, dismissible: true }),
};
