/** What a search finds in all lists that the reader sees, a few of each and the way to the rest. */

import type { PortalRequest } from "@/identity/requests/request";
import { Empty } from "@/ui/empty";
import { Link } from "@/ui/link";
import { listHref, recordHref } from "../pages-for";
import { one, openTables, type Search, sayOf } from "../queries";

const SHOWN = 5;

/** What a search finds in every table that is open to the viewer. */
export function SearchPage({ r, search }: { r: PortalRequest; search: Search }) {
  const say = sayOf(r);
  const words = one(search.q).trim().slice(0, 200);
  const only = one(search.in).split(" ").filter(Boolean);
  const href = recordHref(r);
  const found = (words === "" ? [] : openTables(r))
    .filter((t) => only.length === 0 || only.includes(t.slug))
    .map((table) => ({ table, ...r.desk.page(table, { search: words, page: 1, size: SHOWN }) }))
    .filter((x) => x.total > 0);
  return (
    <div className="grid gap-6">
      <h1>{say("search.title")}</h1>
      <search>
        <form className="flex max-w-xl gap-2">
          <label className="input grow">
            <span className="sr-only">{say("search.label")}</span>
            <input type="search" name="q" defaultValue={words} placeholder={say("search.label")} maxLength={200} />
          </label>
          {only.length > 0 && <input type="hidden" name="in" value={only.join(" ")} />}
          <button type="submit" className="btn btn-primary">
            {say("search.go")}
          </button>
        </form>
      </search>
      {words !== "" && found.length === 0 && (
        <div className="sheet">
          <Empty title={say("list.no-match")}>{say("search.none", { words })}</Empty>
        </div>
      )}
      {found.map(({ table, records, total }) => {
        const list = listHref(r, table.id);
        return (
          <section key={table.id} aria-labelledby={`f-${table.id}`} className="sheet overflow-hidden">
            <div className="flex items-baseline justify-between gap-3 border-b border-base-300 px-4 py-3">
              <h2 id={`f-${table.id}`}>{table.name}</h2>
              {list && (
                <Link className="link-plain tabular-nums" href={`${list}?q=${encodeURIComponent(words)}`}>
                  {say("sheet.all", { total })}
                </Link>
              )}
            </div>
            <ul>
              {records.map((x) => {
                const to = href(table.id, x.id);
                return (
                  <li key={x.id} className="border-b border-base-300/60 px-4 py-2 last:border-0">
                    {to ? (
                      <Link className="link-plain" href={to}>
                        {r.desk.label(table, x)}
                      </Link>
                    ) : (
                      r.desk.label(table, x)
                    )}
                  </li>
                );
              })}
            </ul>
          </section>
        );
      })}
    </div>
  );
}
