/** The owner's grid of a table: a page of records, sorted and searched, with what each cell needs to be edited. */
import type { Condition } from "@/core/access/condition";
import { wallSentence } from "@/core/access/wording";
import type { SeenRecord } from "@/core/records";
import { type Field, kindOf, type Table } from "@/core/schema/types";
import { countOf } from "@/data/billing/standing";
import { draftOf } from "@/data/definition/draft";
import type { Sort } from "@/data/records/query/order";
import type { OfficePortal } from "@/identity/office-gate";

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
  return schema.tables.map((table): TableRow => {
    const wall = d.walls[table.id] ?? { kind: "agency-only" as const };
    const granted = d.grants.some(
      (g) => g.table === table.id && g.actions.includes("see") && g.roles.some((r) => d.roles.find((x) => x.id === r)?.side !== "agency"),
    );
    const unowned = wall.kind === "owned" && !table.fields.some((f) => f.options.target) && table.kind === "ordinary";
    const silence =
      wall.kind === "agency-only" && granted
        ? "a grant names it, but the wall keeps it with the agency"
        : !granted && wall.kind !== "agency-only"
          ? "no grant opens it to a client role"
          : unowned
            ? `no relation leads from ${table.name} to Companies: add one`
            : null;
    return { table, records: countOf(p.file, table.id), wall: wallSentence(schema, table.id, wall), silence };
  });
}

export const GRID_PAGE = 50;

export interface Grid {
  readonly records: SeenRecord[];
  readonly total: number;
  readonly all: number;
  readonly page: number;
  readonly pages: number;
  readonly sort: Sort | null;
  readonly search: string;
  /** Only records that belong to no company. */
  readonly ownerless: boolean;
}

type Search = Record<string, string | string[] | undefined>;
const one = (v: string | string[] | undefined): string => (Array.isArray(v) ? (v[0] ?? "") : (v ?? ""));

export function grid(p: OfficePortal, table: Table, search: Search): Grid {
  const words = one(search.q).slice(0, 200);
  const text = one(search.sort);
  const field = table.fields.find((f) => f.slug === text.replace(/^-/, ""));
  const sort = field && sorts(field) ? { field: field.id, descending: text.startsWith("-") } : null;
  const all = countOf(p.file, table.id);
  // An empty relation anywhere on the wall's way leads to nobody, and counts as an empty company at its end.
  const wall = draftOf(p.file, p.owner).definition.walls[table.id];
  const ownerless = one(search.belongs) === "nobody" && wall?.kind === "owned" && wall.path.length > 0;
  const condition: Condition | null = ownerless ? { kind: "test", path: [...wall.path], operator: "is-empty", operands: [] } : null;
  const shown = p.desk.page(table, {
    search: words,
    condition,
    ...(sort ? { sort: [sort] } : {}),
    page: Number.parseInt(one(search.page), 10),
    size: GRID_PAGE,
  });
  return { ...shown, all, sort, search: words, ownerless };
}

export const sorts = (f: Field): boolean => kindOf(f).sortable;
