/** What a list shows, from its settings and its address. Settings and address only narrow what the reader sees. */

import type { Condition } from "@/core/schema/condition";
import { choosesOne, isSummed, pointsToOne } from "@/core/schema/fields/natures";
import type { SeenRecord } from "@/core/schema/seen";
import { type Field, type FieldOf, fieldBySlug, kindOf, type Table } from "@/core/schema/types";
import type { Source } from "@/core/sections/kind";
import { isWhole, type ListSettings, PLAIN_LIST } from "@/core/sections/list";
import { measured } from "@/data/records/counting/measure";
import type { Sort } from "@/data/records/query/order";
import type { PortalRequest } from "@/identity/requests/request";
import { LOOKS } from "@/ui/forms/fields";
import { type Only, onlyOf } from "../../narrowed";
import { columns, one, type Search } from "../../queries";

export const PAGE = PLAIN_LIST.size;

export interface Column {
  readonly field: Field;
  readonly name: string;
}
export interface ListView {
  /** Records of one page; none where the look has no pages and asks for its own. */
  readonly records: SeenRecord[];
  readonly total: number;
  readonly all: number;
  readonly page: number;
  readonly pages: number;
  readonly size: number;
  readonly columns: Column[];
  readonly choiceFilters: { field: FieldOf<"choice">; chosen: string }[];
  readonly related: { field: Field; id: string; label: string } | null;
  /** Narrowed to what stands behind a figure or a part of a chart. */
  readonly only: Only | null;
  readonly sort: Sort | null;
  readonly search: string;
  readonly sums: { field: Field; sum: number }[];
  /** All that narrows it, for what else is worked out over the same records. */
  readonly condition: Condition | null;
}

export interface ListAsked {
  readonly source: Pick<Source, "filter" | "sort">;
  readonly settings: ListSettings;
  /** Before the names of its parameters in the address, where a page has several lists. */
  readonly key: string;
  /** Only those that point to a record by this field. */
  readonly through?: { readonly field: string; readonly id: string };
}
const PLAIN: ListAsked = { source: { filter: null, sort: [] }, settings: PLAIN_LIST, key: "" };

export const pointsTo = (field: string, id: string): Condition => ({
  kind: "test",
  path: [field],
  operator: "is",
  operands: [{ kind: "literal", value: id }],
});
export const together = (parts: readonly (Condition | null)[]): Condition | null => {
  const of = parts.filter((c) => c !== null);
  return of.length === 0 ? null : of.length === 1 ? of[0]! : { kind: "all", of };
};

/** Picked columns that the reader may know of; all of them where none are picked. */
export function columnsOf(r: PortalRequest, table: Table, picked: ListSettings["columns"]): Column[] {
  const known = columns(r, table);
  if (!picked) return known.map((field) => ({ field, name: field.name }));
  return picked.flatMap(({ field, name }) => {
    const f = known.find((x) => x.id === field);
    return f ? [{ field: f, name: name || f.name }] : [];
  });
}

export interface FewView {
  readonly total: number;
  /** What stands beside the name: what was picked, or where each stands. */
  readonly notes: readonly Column[];
  readonly newest: readonly SeenRecord[];
}

/** The first few, and how many there are. */
export function fewOf(
  r: PortalRequest,
  table: Table,
  source: ListAsked["source"],
  settings: ListSettings,
  through: { readonly field: Field; readonly id: string } | null,
): FewView {
  const condition = together([source.filter, through ? pointsTo(through.field.id, through.id) : null]);
  const known = columnsOf(r, table, settings.columns);
  const sort = source.sort.filter((s) => known.some((c) => c.field.id === s.field) || r.desk.known(table).some((f) => f.id === s.field));
  const notes = settings.columns
    ? known.filter((c) => c.field.id !== table.labelFieldId)
    : [known.find((c) => choosesOne(c.field)) ?? known[1]].flatMap((c) => (c ? [c] : []));
  // Nothing is asked for that is not shown: names of related records cost a statement each.
  const only = new Set([table.labelFieldId, ...notes.map((c) => c.field.id)]);
  const query = { condition, only, limit: settings.size, ...(sort.length > 0 ? { sort } : {}) };
  const { records: newest, total } = r.desk.first(table, query);
  return { total, notes, newest };
}

export function listView(r: PortalRequest, table: Table, search: Search, asked: ListAsked = PLAIN): ListView {
  const { source, settings, key } = asked;
  const known = columns(r, table);
  const given = (name: string): string => one(search[`${key}${name}`]);
  const offered = settings.filters ? settings.filters.flatMap((id) => known.filter((f) => f.id === id)) : known;
  const choiceFilters = offered.filter((f) => choosesOne(f)).map((field) => ({ field, chosen: given(`is.${field.slug}`).slice(0, 200) }));
  // Addresses name a choice by its words, or by its id, which outlives them.
  const chosen = choiceFilters.flatMap(({ field, chosen }) => {
    const read = chosen ? kindOf(field).parse([chosen], field) : null;
    return read ? [pointsTo(field.id, read.ok ? String(read.value) : chosen)] : [];
  });
  const [relSlug = "", relId = ""] = given("of").split(":");
  const relField = fieldBySlug(table, relSlug);
  const related = relField !== undefined && pointsToOne(relField) && r.desk.knows(table, relField) ? relatedTo(r, relField, relId) : null;

  const only = onlyOf(r, table, given("only"));
  const sort = sortAsked(known, given("sort"));
  const words = given("q").slice(0, 200);
  const base = together([source.filter, asked.through ? pointsTo(asked.through.field, asked.through.id) : null]);
  const condition = together([base, ...chosen, related ? pointsTo(related.field.id, related.id) : null, only?.condition ?? null]);
  const order = sort ? [sort] : source.sort.filter((s) => known.some((f) => f.id === s.field));
  const query = { condition, search: words };
  const page = Number.parseInt(given("page"), 10);
  const shown = isWhole(settings.look)
    ? { records: [], total: r.desk.count(table, query), page: 1, pages: 1 }
    : r.desk.page(table, { ...query, ...(order.length > 0 ? { sort: order } : {}), page, size: settings.size });
  const narrowed = chosen.length > 0 || related !== null || only !== null || words !== "";
  return {
    ...shown,
    size: settings.size,
    all: narrowed ? r.desk.count(table, { condition: base }) : shown.total,
    columns: columnsOf(r, table, settings.columns),
    choiceFilters,
    related,
    only,
    sort,
    search: words,
    condition,
    sums: settings.sums.flatMap((id) => {
      const field = known.find((f) => f.id === id);
      if (!field || !isSummed(field) || shown.total === 0) return [];
      return [{ field, sum: measured(r.desk, table.id, query, { measure: "sum", of: id }) ?? 0 }];
    }),
  };
}

function sortAsked(known: readonly Field[], text: string): Sort | null {
  const field = known.find((f) => f.slug === text.replace(/^-/, ""));
  return field && kindOf(field).sortable && LOOKS[field.type].edit !== "area"
    ? { field: field.id, descending: text.startsWith("-") }
    : null;
}

function relatedTo(r: PortalRequest, field: FieldOf<"relation">, id: string): ListView["related"] {
  const target = r.desk.schema.table(field.options.target);
  const record = id ? r.desk.read(target, id) : undefined;
  return record ? { field, id, label: r.desk.label(target, record) } : null;
}

/** What a list goes by: the field that was chosen, if the reader may know of it, or the first that fits. */
export function byField(r: PortalRequest, table: Table, by: string | null, fits: (f: Field) => boolean): Field | undefined {
  const known = columns(r, table).filter(fits);
  return by === null ? known[0] : known.find((f) => f.id === by);
}
