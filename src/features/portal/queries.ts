/** What the portal's pages show, gathered for one viewer. Everything here goes through the records repository. */

import type { Condition } from "@/core/access/condition";
import type { Reason } from "@/core/access/decision";
import { scope } from "@/core/access/scope";
import type { SeenRecord } from "@/core/records";
import type { Locale } from "@/core/schema/fields/kind";
import { type Field, type FieldOf, fieldBySlug, kindOf, type Table } from "@/core/schema/types";
import { dateIn } from "@/core/time/relative";
import { type Say, sayIn } from "@/core/words/words";
import { countOf, standingOf } from "@/data/billing/standing";
import { Busy, isBusy, whenFree } from "@/data/file/when-free";
import { personFacts } from "@/data/people/people";
import type { Sort } from "@/data/records/query/order";
import { automaticCompany } from "@/data/records/write/given";
import { noteOpened } from "@/identity/links";
import type { PortalRequest } from "@/identity/request";
import { LOOKS } from "@/ui/fields";

export const localeOf = (r: PortalRequest): Locale => ({
  locale: r.published.definition.portal.locale,
  timeZone: r.published.definition.portal.timeZone,
});

/** The portal's own words, in its language. */
export const sayOf = (r: PortalRequest): Say => sayIn(localeOf(r).locale);

/** Tables that the viewer's grants open, in the agency's order, people and companies last. */
export function openTables(r: PortalRequest): Table[] {
  const open = r.published.policy.schema.tables.filter((t) => r.desk.may(t, "see"));
  return [...open.filter((t) => t.kind === "ordinary"), ...open.filter((t) => t.kind !== "ordinary")];
}

/** Features that would open the table, or more of it, if the plan had them. */
export function missingFeatures(r: PortalRequest, table: Table): string[] {
  const reasons: readonly Reason[] = scope(r.published.policy, r.viewer, table.id).reasons;
  const ids = new Set(reasons.flatMap((x) => (x.code === "feature" ? [x.feature] : [])));
  return [...ids].map((id) => r.published.definition.features.find((f) => f.id === id)?.name ?? id);
}

export const plannedTables = (r: PortalRequest): Table[] =>
  r.published.policy.schema.tables.filter((t) => !r.desk.may(t, "see") && missingFeatures(r, t).length > 0);

/** Fields worth a column: the wall's own company says nothing to people of one company. */
export function columns(r: PortalRequest, table: Table): Field[] {
  const own = automaticCompany(r.published.policy, r.viewer, table.id);
  return r.desk.known(table).filter((f) => f.id !== own && f.id !== "f_company_slug");
}

export const PAGE = 50;

export interface ListView {
  readonly records: SeenRecord[];
  readonly total: number;
  readonly all: number;
  readonly page: number;
  readonly pages: number;
  readonly columns: Field[];
  readonly choiceFilters: { field: Field; chosen: string }[];
  readonly related: { field: Field; id: string; label: string } | null;
  readonly sort: Sort | null;
  readonly search: string;
}

export type Search = Record<string, string | string[] | undefined>;
const one = (v: string | string[] | undefined): string => (Array.isArray(v) ? (v[0] ?? "") : (v ?? ""));

export function listView(r: PortalRequest, table: Table, search: Search): ListView {
  const fields = columns(r, table);
  const bySlug = (slug: string): Field | undefined => fields.find((f) => f.slug === slug);
  const conditions: Condition[] = [];
  const is = (field: Field, value: string): Condition => ({
    kind: "test",
    path: [field.id],
    operator: "is",
    operands: [{ kind: "literal", value }],
  });

  const choiceFilters = fields
    .filter((f) => f.type === "choice")
    .map((field) => ({ field, chosen: one(search[`is.${field.slug}`]).slice(0, 200) }));
  // Addresses name a choice by its words, or by its id, which outlives them.
  for (const { field, chosen } of choiceFilters) {
    const read = chosen ? kindOf(field).parse([chosen], field) : null;
    if (read) conditions.push(is(field, read.ok ? String(read.value) : chosen));
  }
  const [relSlug = "", relId = ""] = one(search.of).split(":");
  const relField = fieldBySlug(table, relSlug);
  const related = relField?.type === "relation" && r.desk.knows(table, relField) ? relatedTo(r, relField, relId) : null;
  if (related) conditions.push(is(related.field, related.id));

  const sortText = one(search.sort);
  const sortField = bySlug(sortText.replace(/^-/, ""));
  const sort = sortField && isSortable(sortField) ? { field: sortField.id, descending: sortText.startsWith("-") } : null;
  const condition: Condition | null = conditions.length > 0 ? { kind: "all", of: conditions } : null;
  const words = one(search.q).slice(0, 200);
  const query = { condition, search: words };
  const shown = r.desk.page(table, {
    ...query,
    ...(sort ? { sort: [sort] } : {}),
    page: Number.parseInt(one(search.page), 10),
    size: PAGE,
  });
  const all = condition || words ? r.desk.count(table) : shown.total;
  return { ...shown, all, columns: fields, choiceFilters, related, sort, search: words };
}

export const isSortable = (f: Field): boolean => kindOf(f).sortable && LOOKS[f.type].edit !== "area";

function relatedTo(r: PortalRequest, field: FieldOf<"relation">, id: string): ListView["related"] {
  const target = r.desk.schema.table(field.options.target);
  const record = id ? r.desk.read(target, id) : undefined;
  return record ? { field, id, label: r.desk.label(target, record) } : null;
}

export interface RelatedList {
  readonly table: Table;
  readonly field: Field;
  readonly records: SeenRecord[];
  readonly total: number;
  readonly columns: Field[];
}

/** Records of other tables that point to this one, as far as the viewer sees them. */
export function relatedLists(r: PortalRequest, table: Table, id: string): RelatedList[] {
  return openTables(r).flatMap((other) =>
    columns(r, other)
      .filter((f) => f.type === "relation" && f.options.target === table.id)
      .map((field): RelatedList => {
        const condition: Condition = { kind: "test", path: [field.id], operator: "is", operands: [{ kind: "literal", value: id }] };
        const cols = columns(r, other)
          .filter((f) => f.id !== field.id && LOOKS[f.type].edit !== "area")
          .slice(0, 4);
        return {
          table: other,
          field,
          columns: cols,
          ...r.desk.page(other, { condition, page: 1, size: 5 }),
        };
      }),
  );
}

/** For the banner of "see as": what this person sees of a table, of how many. */
export const seenOf = (r: PortalRequest, table: Table): { seen: number; all: number } => ({
  seen: r.desk.count(table),
  all: countOf(r.file, table.id),
});

/** Whose link it is, before they are in. */
export const personName = (r: PortalRequest, id: string): string | undefined => personFacts(r.file, id)?.name;

/** What the viewer's company has paid for; null for whoever acts for none. */
export function standingHere(r: PortalRequest): ReturnType<typeof standingOf> | null {
  const { company, now, timeZone } = r.viewer;
  return company ? standingOf(r.file, r.published.definition, company.id, dateIn(now, timeZone)) : null;
}

/** A link's page is looked at. Where the file is busy just then, that goes unnoted. */
export async function looked(r: PortalRequest, token: string): Promise<void> {
  try {
    await whenFree(r.file);
    noteOpened(r.file, token, r.viewer.now);
  } catch (e) {
    if (!(e instanceof Busy) && !isBusy(e)) throw e;
  }
}
