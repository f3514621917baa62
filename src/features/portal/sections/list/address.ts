/** Addresses of a list in another state: everything is in the address, so that it can be shared and gone back to. */
import type { Field, Table } from "@/core/schema/types";
import type { PortalRequest } from "@/identity/requests/request";
import type { ListView } from "./load";

export interface ListAddress {
  /** The page itself. */
  readonly at: string;
  /** This list as it is, with some of it changed or (null) taken away. */
  to(change: Readonly<Record<string, string | null>>): string;
  /** Parameters that a form of this list has to carry: of other lists on the page, and those of its own that stay. */
  carried(except: (name: string) => boolean): [string, string][];
  /** What narrows and sorts it now, as it is kept under a name; and the address of the list as something so kept. */
  readonly own: string;
  as(own: string): string;
  /** This list as it was found. */
  readonly plain: string;
}

export function listAddress(r: PortalRequest, v: ListView, key: string): ListAddress {
  const [at = "", query = ""] = r.path.split("?");
  const others = [...new URLSearchParams(query)].filter(([name]) => !isOwn(name, key));
  const own: Record<string, string> = {
    ...(v.search ? { q: v.search } : {}),
    ...Object.fromEntries(v.choiceFilters.filter((c) => c.chosen).map((c) => [`is.${c.field.slug}`, c.chosen])),
    ...(v.related ? { of: `${v.related.field.slug}:${v.related.id}` } : {}),
    ...(v.only ? { only: v.only.text } : {}),
    ...(v.sort ? { sort: `${v.sort.descending ? "-" : ""}${r.desk.schema.field(v.sort.field).slug}` } : {}),
  };
  const here = (r.base + at).replace(/\/$/, "") || "/";
  const withQuery = (pairs: [string, string][]): string => (pairs.length > 0 ? `${here}?${new URLSearchParams(pairs)}` : here);
  const keyed = (of: Record<string, string>): [string, string][] => Object.entries(of).map(([k, x]) => [`${key}${k}`, x]);
  return {
    at: here,
    to: (change) => {
      const all = Object.entries({ ...own, ...change }).filter((e): e is [string, string] => e[1] !== null);
      return withQuery([...others, ...keyed(Object.fromEntries(all))]);
    },
    carried: (except) => [...others, ...keyed(Object.fromEntries(Object.entries(own).filter(([name]) => !except(name))))],
    own: new URLSearchParams(own).toString(),
    as: (kept) => withQuery([...others, ...keyed(Object.fromEntries(new URLSearchParams(kept)))]),
    plain: withQuery(others),
  };
}

/** Lists but the first of a page have a number before the names of their parameters. */
const isOwn = (name: string, key: string): boolean => (key === "" ? !/^\d+\./.test(name) : name.startsWith(key));

/** The same list as a file, with the API's own filter; null where the list is narrowed by more than that can say. */
export function exportHref(r: PortalRequest, table: Table, v: ListView): string {
  const tests = v.choiceFilters.filter((c) => c.chosen).map((c) => ({ path: c.field.slug, operator: "is", value: c.chosen }));
  if (v.related) tests.push({ path: v.related.field.slug, operator: "is", value: v.related.id });
  const query = new URLSearchParams({
    format: "csv",
    ...(v.sort ? { sort: sortText(r.desk.schema.field(v.sort.field), v.sort.descending) } : {}),
    ...(v.search ? { q: v.search } : {}),
    ...(tests.length > 0 ? { filter: JSON.stringify({ "all of": tests }) } : {}),
  });
  return `${r.base}/api/v1/tables/${table.slug}/export?${query}`;
}

export const sortText = (f: Field, descending: boolean): string => `${descending ? "-" : ""}${f.slug}`;
