/** What search engines may look at (RFC 9309): the lists that visitors may read, and nothing where there is none. */
import { requestPortal } from "@/identity/requests/request";
import { openTables } from "./queries";

/** A portal's robots.txt. 404 where there is no such portal. */
export async function robotsOf(slug: string): Promise<Response> {
  const r = await requestPortal(slug);
  if (!r) return new Response("Not found", { status: 404 });
  // Asked with somebody's cookie it would say what that person may read.
  const open = r.viewer.kind === "visitor" ? openTables(r) : [];
  const allowed = open.length > 0 ? [`Allow: ${r.base}/$`, ...open.map((t) => `Allow: ${r.base}/${t.slug}`)] : [];
  return new Response(["User-agent: *", ...allowed, "Disallow: /", ""].join("\n"), {
    headers: { "content-type": "text/plain; charset=utf-8", "cache-control": "no-store" },
  });
}
