/** The owner's grid of a table: chunks of records, sorted, searched and filtered, with what each cell needs to be edited. */

import { bookWall } from "@/core/access/book-grants";
import { wallSentence } from "@/core/access/words/wording";
import type { Condition, Operand } from "@/core/schema/condition";
import { isRelation } from "@/core/schema/fields/natures";
import type { Operator } from "@/core/schema/operators";
import { takesList, takesNoValue } from "@/core/schema/operators";
import type { SeenValue } from "@/core/schema/seen";
import { comparedWith, type Field, kindOf, type Table } from "@/core/schema/types";
import { draftOf } from "@/data/definition/draft";
import type { Sort } from "@/data/records/query/order";
import { etagOf } from "@/data/records/write/write";
import { countsOf } from "@/data/tables/count";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { lateOf } from "@/office/sources/back/queue";

export interface TableRow {
  readonly table: Table;
  readonly records: number;
  readonly wall: string;
  /** Why clients see nothing of it, if so. */
  readonly silence: string | null;
}

export function tableRows(p: OfficePortal): TableRow[] {
  const { schema } = p.live.policy;
  const d = draftOf(p.file, p.owner).definition;
  const counts = countsOf(
    p.file,
    schema.tables.map((t) => t.id),
  );
  return schema.tables.map((table): TableRow => {
    const wall = bookWall(table.id) ?? d.walls[table.id] ?? { kind: "agency-only" as const };
    const granted = d.grants.some(
      (g) => g.table === table.id && g.actions.includes("see") && g.roles.some((r) => d.roles.find((x) => x.id === r)?.side !== "agency"),
    );
    const unowned = wall.kind === "owned" && !table.fields.some((f) => f.options.target) && table.kind === "ordinary";
    const silence =
      table.kind === "books"
        ? null
        : wall.kind === "agency-only" && granted
          ? "a grant names it, but the wall keeps it with the agency"
          : !granted && wall.kind !== "agency-only"
            ? "no grant opens it to a client role"
            : unowned
              ? `no relation leads from ${table.name} to Companies: add one`
              : null;
    return { table, records: counts.get(table.id) ?? 0, wall: wallSentence(schema, table.id, wall), silence };
  });
}

/** Rows that are fetched at once. */
export const CHUNK = 100;

export interface GridRow {
  readonly id: string;
  readonly seen: string;
  readonly fields: Readonly<Record<string, SeenValue>>;
  /** A change of it has not arrived in another system, or is asked about. */
  readonly late: "waiting" | "asked" | null;
}

/** A filter of one column, as the address has it: `size.at-least.5`, values parted by `~`. */
export interface ColumnFilter {
  readonly field: Field;
  readonly operator: Operator;
  readonly texts: readonly string[];
}

export interface GridQuery {
  readonly search: string;
  readonly sort: Sort | null;
  /** Only records that belong to no company. */
  readonly ownerless: boolean;
  readonly filters: readonly ColumnFilter[];
  /** Filters of the address that say nothing, in words. */
  readonly problems: readonly string[];
  readonly condition: Condition | null;
}

export type Search = Record<string, string | string[] | undefined>;
const one = (v: string | string[] | undefined): string => (Array.isArray(v) ? (v[0] ?? "") : (v ?? ""));
const many = (v: string | string[] | undefined): string[] => (v === undefined ? [] : Array.isArray(v) ? v : [v]);

export const filterText = (f: Pick<ColumnFilter, "operator" | "texts"> & { field: { slug: string } }): string =>
  [f.field.slug, f.operator, f.texts.map(encodeURIComponent).join("~")].join(".");

/** Undefined where somebody broke the address by hand. */
function textsIn(values: string): string[] | undefined {
  try {
    return values.split("~").filter(Boolean).map(decodeURIComponent);
  } catch {
    return undefined;
  }
}

function readFilter(p: OfficePortal, table: Table, text: string): { filter: ColumnFilter; condition: Condition } | string {
  const [slug = "", operator = "", ...rest] = text.split(".");
  const field = table.fields.find((f) => f.slug === slug);
  if (!field) return `There is no field ${slug}.`;
  const op = kindOf(field).operators.find((o) => o === operator);
  if (!op) return `${field.name} cannot be compared like that.`;
  const texts = textsIn(rest.join("."));
  if (!texts) return `${field.name}: this filter cannot be read.`;
  const test = (operands: Operand[]): { filter: ColumnFilter; condition: Condition } => ({
    filter: { field, operator: op, texts },
    condition: { kind: "test", path: [field.id], operator: op, operands },
  });
  if (takesNoValue(op)) return test([]);
  const with_ = comparedWith(field, op);
  const values: (string | number | boolean)[] = [];
  for (const t of texts.slice(0, 100)) {
    const read = isRelation(field)
      ? { ok: true as const, value: t }
      : kindOf(with_).parse([t], with_, { timeZone: p.live.definition.portal.timeZone });
    if (!read.ok) return `${field.name}: ${read.error}`;
    if (read.value !== null) values.push(read.value as string | number | boolean);
  }
  const wanted = op === "between" ? 2 : 1;
  if (values.length < wanted) return `${field.name}: give ${wanted === 2 ? "two values" : "a value"} to compare with.`;
  const literal = (value: unknown): Operand => ({ kind: "literal", value: value as string });
  return test(takesList(op) ? [literal(values)] : values.slice(0, wanted).map(literal));
}

export function gridQuery(p: OfficePortal, table: Table, search: Search): GridQuery {
  const text = one(search.sort);
  const field = table.fields.find((f) => f.slug === text.replace(/^-/, ""));
  const sort = field && sorts(field) ? { field: field.id, descending: text.startsWith("-") } : null;
  // An empty relation anywhere on the wall's way leads to nobody, and counts as an empty company at its end.
  const wall = draftOf(p.file, p.owner).definition.walls[table.id];
  const ownerless = one(search.belongs) === "nobody" && wall?.kind === "owned" && wall.path.length > 0;
  const read = many(search.f)
    .slice(0, 20)
    .map((t) => readFilter(p, table, t));
  const good = read.filter((r) => typeof r !== "string");
  const parts: Condition[] = [
    ...(ownerless ? [{ kind: "test" as const, path: [...wall.path], operator: "is-empty" as const, operands: [] }] : []),
    ...good.map((r) => r.condition),
  ];
  return {
    search: one(search.q).slice(0, 200),
    sort,
    ownerless,
    filters: good.map((r) => r.filter),
    problems: read.filter((r) => typeof r === "string"),
    condition: parts.length > 0 ? { kind: "all", of: parts } : null,
  };
}

/** The chunk of that number, from 0. */
export function gridRows(p: OfficePortal, table: Table, q: GridQuery, chunk: number): { rows: GridRow[]; total: number } {
  const { records, total, page } = p.desk.page(table, {
    search: q.search,
    condition: q.condition,
    ...(q.sort ? { sort: [q.sort] } : {}),
    page: chunk + 1,
    size: CHUNK,
  });
  // One that is past the end has no rows; the nearest page is nobody's business here.
  if (page !== chunk + 1) return { rows: [], total };
  const ids = records.map((r) => r.id);
  const late = lateOf(p.file, table.id, ids);
  const rows = records.map((r): GridRow => ({ id: r.id, seen: etagOf(r), fields: { ...r.fields }, late: late.get(r.id) ?? null }));
  return { rows, total };
}

export const sorts = (f: Field): boolean => kindOf(f).sortable;
