/** `q`, `filter`, `sort`, `limit` and `cursor` of a list, parsed for one viewer. */
import { z } from "zod";
import { knownFields } from "@/core/access/scope";
import { parseFilter } from "@/core/filter/parse";
import { kindOf, type Table } from "@/core/schema/types";
import type { Sort } from "@/data/records/query/order";
import type { Page } from "@/data/records/query/read";
import type { ListQuery } from "@/data/records/query/where";
import { readCursor, writeCursor } from "@/identity/secrets/cursor";
import { invalid, notFound } from "./problem";
import type { ApiRequest } from "./route";

export const listParams = z.object({
  q: z.string().max(200).default(""),
  filter: z.string().max(20_000).optional(),
  sort: z.string().max(500).optional(),
  limit: z.coerce.number().int().min(1).max(200).default(50),
  cursor: z.string().max(4_000).optional(),
});

/** A cursor is good only for the query that it came from; this is that query as text. */
export const queryKey = (table: Table, p: z.infer<typeof listParams>): string =>
  JSON.stringify([table.id, p.q, p.filter ?? "", p.sort ?? ""]);

/** The query of a list, and the cursor that leads on from a page of it. */
export function listQuery(r: ApiRequest, table: Table): { query: ListQuery; next: (page: Page) => string | null } {
  const parsed = listParams.safeParse(Object.fromEntries(r.query));
  if (!parsed.success) {
    throw invalid(
      "A part of the address is not valid.",
      parsed.error.issues.map((i) => ({ field: String(i.path[0]), message: i.message })),
    );
  }
  const p = parsed.data;
  const { policy } = r.published;
  const knows = (tableId: string, fieldId: string): boolean => knownFields(policy, r.viewer, tableId).includes(fieldId);
  const condition = p.filter === undefined ? null : parseFilter(p.filter, policy.schema, table.id, knows);
  if (condition && !condition.ok) {
    throw condition.error.code === "not-found"
      ? notFound()
      : invalid(condition.error.message, [{ field: "filter", message: condition.error.message }]);
  }
  const key = queryKey(table, p);
  const after = p.cursor === undefined ? undefined : readCursor(r.file.id, r.viewer, key, p.cursor);
  if (p.cursor !== undefined && !after)
    throw invalid("This cursor does not belong to this list.", [{ field: "cursor", message: "Begin again without a cursor." }]);
  const sort = p.sort ? sortOf(p.sort, r, table) : undefined;
  return {
    next: (page) => {
      const position = page.next();
      return position ? writeCursor(r.file.id, r.viewer, key, position) : null;
    },
    query: { search: p.q, condition: condition?.value ?? null, limit: p.limit, ...(sort ? { sort } : {}), ...(after ? { after } : {}) },
  };
}

function sortOf(text: string, r: ApiRequest, table: Table): Sort[] {
  const parts = text.split(",").filter(Boolean).slice(0, 4);
  return parts.map((part) => {
    const descending = part.startsWith("-");
    const field = r.desk.known(table).find((f) => f.slug === (descending ? part.slice(1) : part));
    if (!field) throw notFound();
    if (!kindOf(field).sortable)
      throw invalid(`${field.slug} cannot be sorted by.`, [{ field: "sort", message: `${field.slug} has several values.` }]);
    return { field: field.id, descending };
  });
}
