/** A list: search, filters by choice, sorting, pages, download. Everything is in the address, so that it can be shared. */

import { Download, Plus, X } from "lucide-react";
import type { Field, Table } from "@/core/schema/types";
import { withArticle } from "@/core/text/article";
import type { PortalRequest } from "@/identity/request";
import { AutoSelect } from "@/ui/auto-submit";
import { Empty } from "@/ui/empty";
import { Link } from "@/ui/link";
import { Pager } from "@/ui/pager";
import { SlashSearch } from "@/ui/slash-search";
import { listView, localeOf, missingFeatures, PAGE, type Search, sayOf, seenOf } from "../queries";
import { ListTable } from "./list-table";
import { PlanNote } from "./plan-note";

export function recordHref(r: PortalRequest): (tableId: string, id: string) => string | undefined {
  return (tableId, id) => {
    const t = r.published.policy.schema.findTable(tableId);
    return t && r.desk.may(t, "see") ? `${r.base}/${t.slug}/${id}` : undefined;
  };
}

export function List({ r, table, search }: { r: PortalRequest; table: Table; search: Search }) {
  const v = listView(r, table, search);
  const locale = localeOf(r);
  const say = sayOf(r);
  const at = `${r.base}/${table.slug}`;
  const current: Record<string, string> = {
    ...(v.search ? { q: v.search } : {}),
    ...Object.fromEntries(v.choiceFilters.filter((c) => c.chosen).map((c) => [`is.${c.field.slug}`, c.chosen])),
    ...(v.related ? { of: `${v.related.field.slug}:${v.related.id}` } : {}),
    ...(v.sort ? { sort: `${v.sort.descending ? "-" : ""}${r.published.policy.schema.field(v.sort.field).slug}` } : {}),
  };
  const href = (change: Record<string, string | null>): string => {
    const all = Object.entries({ ...current, ...change }).filter((e): e is [string, string] => e[1] !== null);
    return all.length > 0 ? `${at}?${new URLSearchParams(all)}` : at;
  };
  const things = table.name.toLowerCase();
  const narrowed = v.search !== "" || v.related !== null || v.choiceFilters.some((c) => c.chosen);
  const features = missingFeatures(r, table);
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <div>
          <h1>{table.name}</h1>
          {r.seeAs && <SeenOf r={r} table={table} />}
        </div>
        <div className="flex flex-wrap items-center gap-2">
          {r.desk.may(table, "export") && v.all > 0 && (
            <a className="btn btn-ghost btn-sm" href={exportHref(r, table, v)} download>
              <Download size={15} aria-hidden /> {say("list.download")}
            </a>
          )}
          {r.desk.may(table, "add") && (
            <Link className="btn btn-primary btn-sm" href={`${at}/new`}>
              <Plus size={15} aria-hidden /> {say("list.add", { a_thing: withArticle(table.singular) })}
            </Link>
          )}
        </div>
      </div>
      {features.length > 0 && <PlanNote say={say} base={r.base} things={say("list.more", { things })} features={features} lapsed={false} />}
      <form action={at} className="flex flex-wrap items-end gap-3">
        <SlashSearch label={say("list.search", { things })} value={v.search} />
        {v.choiceFilters.map(({ field, chosen }) => (
          <ChoiceFilter key={`${field.id} ${chosen}`} any={say("list.any")} field={field} chosen={chosen} />
        ))}
        {v.related && <input type="hidden" name="of" value={`${v.related.field.slug}:${v.related.id}`} />}
        {v.sort && <input type="hidden" name="sort" value={current.sort} />}
        <noscript>
          <button type="submit" className="btn btn-sm">
            {say("list.show")}
          </button>
        </noscript>
        {v.related && (
          <Link href={href({ of: null, page: null })} className="tag inline-flex items-center gap-1 py-1">
            {`${v.related.field.name}: ${v.related.label}`} <X size={13} aria-hidden />{" "}
            <span className="sr-only">{say("list.take-away")}</span>
          </Link>
        )}
        {narrowed && (
          <Link className="link-plain py-1.5 text-sm" href={at}>
            {say("list.show-all")}
          </Link>
        )}
      </form>
      <section className="sheet overflow-hidden" aria-label={table.name}>
        {v.records.length > 0 ? (
          <ListTable
            table={table}
            columns={v.columns}
            records={v.records}
            locale={locale}
            base={r.base}
            sort={v.sort}
            sortHref={(f, descending) => href({ sort: `${descending ? "-" : ""}${f.slug}`, page: null })}
            href={recordHref(r)}
          />
        ) : narrowed ? (
          <Empty title={say("list.no-match")}>
            {v.all > 0 ? say("list.no-match-of", { all: v.all, things }) : say("list.nothing-to-search")}
          </Empty>
        ) : (
          <NothingHere r={r} table={table} />
        )}
        <Pager
          page={v.page}
          pages={v.pages}
          size={PAGE}
          total={v.total}
          locale={locale.locale}
          href={(page) => href({ page: page === 1 ? null : String(page) })}
        />
      </section>
    </div>
  );
}

function ChoiceFilter({ any, field, chosen }: { any: string; field: Field; chosen: string }) {
  return (
    <label className="grid gap-1 text-sm">
      <span className="quiet">{field.name}</span>
      <AutoSelect name={`is.${field.slug}`} defaultValue={chosen} className="select min-w-32">
        <option value="">{any}</option>
        {(field.options.choices ?? []).map((c) => (
          <option key={c.id}>{c.name}</option>
        ))}
      </AutoSelect>
    </label>
  );
}

/** Why there is nothing, in words, without telling what others have. */
function NothingHere({ r, table }: { r: PortalRequest; table: Table }) {
  const { brand } = r.published.definition;
  const say = sayOf(r);
  const roles = r.viewer.roles.map((x) => r.published.policy.role(x)?.name ?? x).join(", ");
  const whom = roles ? say("list.whom-roles", { roles }) : say("list.whom-you");
  const company = r.viewer.company?.name;
  const why = company ? say("list.company-has-none", { company, whom }) : say("list.there-are-none", { whom });
  return (
    <Empty title={say("list.none-yet", { things: table.name.toLowerCase() })}>
      {r.desk.may(table, "add") ? say("list.you-may-add") : why}
      {brand.contact && ` ${say("list.write-to", { contact: brand.contact })}`}
    </Empty>
  );
}

/** The same list as a file, with the API's own filter. */
function exportHref(r: PortalRequest, table: Table, v: ReturnType<typeof listView>): string {
  const tests = v.choiceFilters.filter((c) => c.chosen).map((c) => ({ path: c.field.slug, operator: "is", value: c.chosen }));
  if (v.related) tests.push({ path: v.related.field.slug, operator: "is", value: v.related.id });
  const query = new URLSearchParams({
    format: "csv",
    ...(v.sort ? { sort: `${v.sort.descending ? "-" : ""}${r.desk.schema.field(v.sort.field).slug}` } : {}),
    ...(v.search ? { q: v.search } : {}),
    ...(tests.length > 0 ? { filter: JSON.stringify({ "all of": tests }) } : {}),
  });
  return `${r.base}/api/v1/tables/${table.slug}/export?${query}`;
}

/** While seeing as somebody: how much of the whole table that is. */
function SeenOf({ r, table }: { r: PortalRequest; table: Table }) {
  return <p className="mt-1 tabular-nums">{sayOf(r)("list.sees", { things: table.name, ...seenOf(r, table) })}</p>;
}
