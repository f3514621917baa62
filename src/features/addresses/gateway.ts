/**
 * The question of a gateway that gets certificates on demand (Caddy's `ask`): may this name have one? Yes for the names of this
 * installation and for domains that were shown to be an agency's. It says no more than such a certificate does, which is public anyway.
 */
import { config } from "@/config";
import { portalIdAt } from "@/data/file/open";
import { slugAt } from "@/data/installation/domains";

/** Answers the gateway that fetches certificates: 200 for a host that is answered here, 404 for any other. */
export function mayHaveCertificate(request: Request): Response {
  const host = (new URL(request.url).searchParams.get("domain") ?? "").toLowerCase().slice(0, 300);
  const main = config().address.hostname.toLowerCase();
  const below = host.endsWith(`.${main}`) ? host.slice(0, -main.length - 1) : null;
  const known = host === main || (below === null ? slugAt(host) !== undefined : portalIdAt(below) !== undefined);
  return new Response(known ? "yes\n" : "no\n", { status: known ? 200 : 404, headers: { "cache-control": "no-store" } });
}
