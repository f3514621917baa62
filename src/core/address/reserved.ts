/**
 * Words that addresses need for themselves. What has an address of its own (a portal, a table, a page, a record) may not be called so:
 * its page could not be reached, or a route of Elkhorn's could not.
 */

/** First words of a path in a portal. New routes of the system stand under `/-/`, so this list need not grow. */
const IN_PORTAL = new Set([
  "-",
  "api",
  "home",
  "link",
  "new-password",
  "openapi-json",
  "openapi.json",
  "p",
  "plans",
  "see-as",
  "sign-in",
  "sign-out",
  "_next",
  "favicon.ico",
  "robots.txt",
]);
/** After a table's address: its forms. */
const IN_TABLE = new Set(["new", "change", "-"]);
/** Names of hosts that are not a portal's. */
const HOSTS = new Set(["api", "app", "www", "mail", "admin", "office", "static", "localhost", "elkhorn"]);

export type Addressed = "portal" | "table" | "page" | "record";

/** Whether an address is one that Elkhorn itself answers, so that nothing of the owner's may have it. */
export function isReserved(what: Addressed, slug: string): boolean {
  switch (what) {
    case "portal":
      return HOSTS.has(slug) || slug.startsWith("rehearsal-");
    case "table":
    case "page":
      return IN_PORTAL.has(slug) || IN_TABLE.has(slug);
    case "record":
      return IN_TABLE.has(slug);
  }
}
