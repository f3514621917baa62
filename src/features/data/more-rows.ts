/** Rows of the grid that come while it is scrolled. */
import { officePortalOf } from "@/identity/requests/office-gate";
import { gridQuery, gridRows, type Search } from "./queries";

/** Further rows of the grid as JSON. 401 for whoever may not work with records here, 404 where the table is gone. */
export async function moreRows(request: Request, at: { slug: string; table: string }): Promise<Response> {
  const p = await officePortalOf(at.slug, "records");
  if (!p) return Response.json({ message: "Sign in to the back office first." }, { status: 401, headers: { "cache-control": "no-store" } });
  const table = p.live.policy.schema.tableAt(at.table);
  if (!table) return Response.json({ message: "There is no such table." }, { status: 404, headers: { "cache-control": "no-store" } });
  const params = new URL(request.url).searchParams;
  const search: Search = Object.fromEntries([...new Set(params.keys())].map((k) => [k, params.getAll(k)]));
  const chunk = Number(params.get("chunk"));
  const found = gridRows(p, table, gridQuery(p, table, search), Number.isSafeInteger(chunk) && chunk >= 0 ? chunk : 0);
  return Response.json(found, { headers: { "cache-control": "private, no-store" } });
}
