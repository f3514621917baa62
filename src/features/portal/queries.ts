/** What the portal's pages show, gathered for one viewer. Everything here goes through the records repository. */
import type { Condition } from "@/core/access/condition";
import type { Reason } from "@/core/access/decision";
import type { Action } from "@/core/access/rules";
import { knownFields, scope } from "@/core/access/scope";
import { sideOf } from "@/core/access/viewer";
import type { Locale } from "@/core/exchange/present";
import type { SeenRecord } from "@/core/records";
import { type Field, fieldBySlug, type Table } from "@/core/schema/types";
import { countOf } from "@/data/billing/standing";
import type { Sort } from "@/data/records/query/order";
import { countRecords, listRecords, readRecord } from "@/data/records/query/read";
import type { PortalRequest } from "@/identity/request";

export const localeOf = (r: PortalRequest): Locale => ({
  locale: r.published.definition.portal.locale,
  timeZone: r.published.definition.portal.timeZone,
});

export const may = (r: PortalRequest, table: Table, action: Action): boolean => {
  const s = scope(r.published.policy, r.viewer, table.id, action);
  return s.everything || s.grants.length > 0;
};

/** Tables that the viewer's grants open, in the agency's order, people and companies last. */
export function openTables(r: PortalRequest): Table[] {
  const open = r.published.policy.schema.tables.filter((t) => may(r, t, "see"));
  return [...open.filter((t) => t.kind === "ordinary"), ...open.filter((t) => t.kind !== "ordinary")];
}

/** Features that would open the table, or more of it, if the plan had them. */
export function missingFeatures(r: PortalRequest, table: Table): string[] {
  const reasons: readonly Reason[] = scope(r.published.policy, r.viewer, table.id).reasons;
  const ids = new Set(reasons.flatMap((x) => (x.code === "feature" ? [x.feature] : [])));
  return [...ids].map((id) => r.published.definition.features.find((f) => f.id === id)?.name ?? id);
}

export const plannedTables = (r: PortalRequest): Table[] =>
  r.published.policy.schema.tables.filter((t) => !may(r, t, "see") && missingFeatures(r, t).length > 0);

/** Fields worth a column: the wall's own company says nothing to people of one company. */
export function columns(r: PortalRequest, table: Table): Field[] {
  const known = new Set(knownFields(r.published.policy, r.viewer, table.id));
  const wall = r.published.policy.wall(table.id);
  const own = sideOf(r.viewer) === "client" && wall.kind === "owned" && wall.path.length === 1 ? wall.path[0] : null;
  return table.fields.filter((f) => known.has(f.id) && f.id !== own && f.id !== "f_company_slug");
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
  const { policy } = r.published;
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
  for (const c of choiceFilters) if (c.chosen) conditions.push(is(c.field, c.chosen));
  const [relSlug = "", relId = ""] = one(search.of).split(":");
  const relField = fieldBySlug(table, relSlug);
  const related =
    relField && knownFields(policy, r.viewer, table.id).includes(relField.id) && relField.type === "relation"
      ? relatedTo(r, relField, relId)
      : null;
  if (related) conditions.push(is(related.field, related.id));

  const sortText = one(search.sort);
  const sortField = bySlug(sortText.replace(/^-/, ""));
  const sort = sortField && isSortable(sortField) ? { field: sortField.id, descending: sortText.startsWith("-") } : null;
  const condition: Condition | null = conditions.length > 0 ? { kind: "all", of: conditions } : null;
  const words = one(search.q).slice(0, 200);
  const query = { condition, search: words };
  const total = countRecords(r.file, policy, r.viewer, table.id, query);
  const pages = Math.max(1, Math.ceil(total / PAGE));
  const page = Math.min(pages, Math.max(1, Number.parseInt(one(search.page), 10) || 1));
  const { records } = listRecords(r.file, policy, r.viewer, table.id, {
    ...query,
    ...(sort ? { sort: [sort] } : {}),
    limit: PAGE,
    offset: (page - 1) * PAGE,
  });
  const all = condition || words ? countRecords(r.file, policy, r.viewer, table.id) : total;
  return { records, total, all, page, pages, columns: fields, choiceFilters, related, sort, search: words };
}

export const isSortable = (f: Field): boolean => f.type !== "relations" && f.type !== "choices" && f.type !== "long-text";

function relatedTo(r: PortalRequest, field: Field, id: string): ListView["related"] {
  const target = field.options.target!;
  const record = id ? readRecord(r.file, r.published.policy, r.viewer, target, id) : undefined;
  return record ? { field, id, label: labelOf(r.published.policy.schema.table(target), record) } : null;
}

export const labelOf = (table: Table, record: SeenRecord): string => {
  const v = record.fields[table.labelFieldId];
  return v === null || v === undefined || v === "" ? table.singular : String(v);
};

export interface RelatedList {
  readonly table: Table;
  readonly field: Field;
  readonly records: SeenRecord[];
  readonly total: number;
  readonly columns: Field[];
}

/** Records of other tables that point to this one, as far as the viewer sees them. */
export function relatedLists(r: PortalRequest, table: Table, id: string): RelatedList[] {
  const { policy } = r.published;
  return openTables(r).flatMap((other) =>
    columns(r, other)
      .filter((f) => f.type === "relation" && f.options.target === table.id)
      .map((field): RelatedList => {
        const condition: Condition = { kind: "test", path: [field.id], operator: "is", operands: [{ kind: "literal", value: id }] };
        const cols = columns(r, other)
          .filter((f) => f.id !== field.id && f.type !== "long-text")
          .slice(0, 4);
        return {
          table: other,
          field,
          columns: cols,
          records: listRecords(r.file, policy, r.viewer, other.id, { condition, limit: 5 }).records,
          total: countRecords(r.file, policy, r.viewer, other.id, { condition }),
        };
      }),
  );
}

/** For the banner of "see as": what this person sees of a table, of how many. */
export const seenOf = (r: PortalRequest, table: Table): { seen: number; all: number } => ({
  seen: countRecords(r.file, r.published.policy, r.viewer, table.id),
  all: countOf(r.file, table.id),
});
