import { ArrowRightLeft, Columns3Cog, Plus } from "lucide-react";
import { notFound } from "next/navigation";
import { mayInOffice } from "@/core/access/who/office";
import type { Table } from "@/core/schema/types";
import { withArticle } from "@/core/text/article";
import { countOf } from "@/data/tables/count";
import { namedViews, ownView } from "@/data/views/views";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { fieldsOut } from "@/office/sources/back/ways";
import { goesOutWords } from "@/office/sources/back/words";
import { count } from "@/office/words";
import { Empty } from "@/ui/empty";
import { Link } from "@/ui/link";
import { SlashSearch } from "@/ui/slash-search";
import type { GridQuery } from "../queries";
import { CHUNK, filterText, gridQuery, gridRows, type Search, sorts } from "../queries";
import { Grid } from "./grid/grid";

interface Props {
  p: OfficePortal;
  params: { slug: string; table: string };
  search: Search;
}

/** The grid of a table's records. */
export async function TablePage({ p, params, search }: Props) {
  const table = p.live.policy.schema.tableAt(params.table);
  if (!table) notFound();
  const q = gridQuery(p, table, search);
  const { rows, total } = gridRows(p, table, q, 0);
  const at = `${p.at}/data/${table.slug}`;
  const locale = p.live.definition.portal;
  const sortSlug = q.sort ? `${q.sort.descending ? "-" : ""}${p.live.policy.schema.field(q.sort.field).slug}` : "";
  const queryOf = (change: Record<string, string>): URLSearchParams => {
    const all = { q: q.search, sort: sortSlug, belongs: q.ownerless ? "nobody" : "", ...change };
    const params_ = new URLSearchParams(Object.entries(all).filter(([, v]) => v));
    for (const f of q.filters) params_.append("f", filterText(f));
    return params_;
  };
  const href = (change: Record<string, string>): string => {
    const query = queryOf(change);
    return query.size > 0 ? `${at}?${query}` : at;
  };
  const sortHrefs = Object.fromEntries(
    table.fields.filter(sorts).map((f) => [f.id, href({ sort: q.sort?.field === f.id && !q.sort.descending ? `-${f.slug}` : f.slug })]),
  );
  const named = namedViews(p.file, p.owner, table.id);
  const asked = named.find((v) => v.id === search.view);
  const query = queryOf({}).toString();
  const builds = mayInOffice(p.staff.role, "build");
  const out = goesOutWords(p.file, p.owner, table);
  const narrowed = q.search !== "" || q.ownerless || q.filters.length > 0;
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={`${p.at}/data`}>
          Data
        </Link>
      </nav>
      <TableHead table={table} p={p} at={at} builds={builds} />
      <TableSearch at={at} q={q} table={table} sortSlug={sortSlug} href={href} />
      {out && <p className="quiet -mt-3 text-sm">{out} when they change here.</p>}
      {q.problems.length > 0 && (
        <p role="alert" className="alert alert-warning alert-soft">
          {q.problems.join(" ")}
        </p>
      )}
      <section className="sheet overflow-hidden" aria-label={table.name}>
        {rows.length > 0 ? (
          <Grid
            key={`${query} ${asked?.id ?? ""} ${p.live.policy.schema.version}`}
            portal={p.slug}
            tableId={table.id}
            at={at}
            singular={table.singular}
            fields={[...table.fields]}
            rows={rows}
            total={total}
            chunk={CHUNK}
            locale={{ locale: locale.locale, timeZone: locale.timeZone }}
            sort={q.sort}
            sortHrefs={sortHrefs}
            filters={q.filters.map((f) => ({ field: f.field.id, operator: f.operator, texts: [...f.texts] }))}
            query={query}
            view={asked?.view ?? ownView(p.file, p.owner, table.id)}
            named={named.map((v) => ({ id: v.id, name: v.name, href: `${at}?${v.view.query ? `${v.view.query}&` : ""}view=${v.id}` }))}
            goesTo={Object.fromEntries(fieldsOut(p.file, p.owner, table.id))}
            removable={table.kind === "ordinary"}
            whyAt={`${p.at}/check/${table.slug}`}
          />
        ) : narrowed ? (
          <Empty title="Nothing matches">
            None of the {count(p, countOf(p.file, table.id))} {table.name.toLowerCase()}{" "}
            {q.search ? `has “${q.search}” in it` : "is like that"}.{" "}
            <Link className="link-plain" href={at}>
              Show all
            </Link>
          </Empty>
        ) : (
          <Empty title={`No ${table.name.toLowerCase()} yet`}>Add one, or bring a file into this table.</Empty>
        )}
      </section>
    </div>
  );
}

interface TableHeadProps {
  readonly table: Table;
  readonly p: OfficePortal;
  readonly at: string;
  readonly builds: boolean;
}

/** What the table is called, and what can be done with it as a whole. */
function TableHead({ table, p, at, builds }: TableHeadProps) {
  return (
    <div className="flex flex-wrap items-center justify-between gap-3">
      <h1>{table.name}</h1>
      <div className="ml-auto flex flex-wrap items-center gap-2">
        {p.live.policy.wall(table.id).kind === "owned" && table.kind === "ordinary" && (
          <Link href={`${at}/move`} className="btn btn-ghost btn-sm">
            <ArrowRightLeft size={15} aria-hidden /> Move to a company
          </Link>
        )}
        {builds && table.kind !== "books" && (
          <Link href={`${at}/shape`} className="btn btn-ghost btn-sm">
            <Columns3Cog size={15} aria-hidden /> Shape
          </Link>
        )}
        {table.kind === "books" ? (
          mayInOffice(p.staff.role, "bill") && (
            <Link href={`${p.at}/plans/money`} className="link-plain">
              Money
            </Link>
          )
        ) : table.kind === "ordinary" ? (
          <Link href={`${at}/new`} className="btn btn-sm">
            <Plus size={15} aria-hidden /> Add {withArticle(table.singular)}
          </Link>
        ) : (
          <Link href={`${p.at}/people`} className="link-plain">
            Add under People and companies
          </Link>
        )}
      </div>
    </div>
  );
}

interface TableSearchProps {
  readonly at: string;
  readonly q: GridQuery;
  readonly table: Table;
  readonly sortSlug: string;
  readonly href: (change: Record<string, string>) => string;
}

/** Search. */
function TableSearch({ at, q, table, sortSlug, href }: TableSearchProps) {
  return (
    <form action={at} className="flex flex-wrap items-center gap-4">
      <SlashSearch key={q.search} label={`Search ${table.name.toLowerCase()}`} value={q.search} />
      {sortSlug && <input type="hidden" name="sort" value={sortSlug} />}
      {q.filters.map((f) => (
        <input key={filterText(f)} type="hidden" name="f" value={filterText(f)} />
      ))}
      {q.ownerless && (
        <span className="tag">
          Belong to no company
          <Link className="link-plain ml-2" href={href({ belongs: "" })}>
            Show all
          </Link>
        </span>
      )}
      <span className="quiet text-sm">
        {table.kind === "books"
          ? "Written by Elkhorn as things are bought and paid, and by nobody else."
          : "Choose a cell to change it. Nothing here is a draft: changes hold at once."}
      </span>
    </form>
  );
}
