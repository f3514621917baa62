import { Plus } from "lucide-react";
import { notFound } from "next/navigation";
import { withArticle } from "@/core/text/article";
import { etagOf } from "@/data/records/write/write";
import type { OfficePortal } from "@/identity/office-gate";
import { count } from "@/office/words";
import { Empty } from "@/ui/empty";
import { Link } from "@/ui/link";
import { Pager } from "@/ui/pager";
import { SlashSearch } from "@/ui/slash-search";
import { GRID_PAGE, grid, sorts } from "../queries";
import { Grid } from "./grid";

interface Props {
  p: OfficePortal;
  params: { slug: string; table: string };
  search: Record<string, string | string[] | undefined>;
}

export async function TablePage({ p, params, search }: Props) {
  const table = p.live.policy.schema.tableAt(params.table);
  if (!table) notFound();
  const g = grid(p, table, search);
  const at = `${p.at}/data/${table.slug}`;
  const locale = p.live.definition.portal;
  const sortSlug = g.sort ? `${g.sort.descending ? "-" : ""}${p.live.policy.schema.field(g.sort.field).slug}` : "";
  const href = (change: Record<string, string>): string => {
    const all = Object.entries({ q: g.search, sort: sortSlug, belongs: g.ownerless ? "nobody" : "", ...change }).filter(([, v]) => v);
    return all.length > 0 ? `${at}?${new URLSearchParams(all)}` : at;
  };
  const sortHrefs = Object.fromEntries(
    table.fields
      .filter(sorts)
      .map((f) => [f.id, href({ sort: g.sort?.field === f.id && !g.sort.descending ? `-${f.slug}` : f.slug, page: "" })]),
  );
  const rows = g.records.map((r) => ({ id: r.id, seen: etagOf(r), fields: { ...r.fields } }));
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={`${p.at}/data`}>
          Data
        </Link>
      </nav>
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h1>{table.name}</h1>
        {table.kind === "ordinary" ? (
          <Link href={`${at}/new`} className="btn btn-sm">
            <Plus size={15} aria-hidden /> Add {withArticle(table.singular)}
          </Link>
        ) : (
          <Link href={`${p.at}/people`} className="link-plain">
            Add under People and companies
          </Link>
        )}
      </div>
      <form action={at} className="flex flex-wrap items-center gap-4">
        <SlashSearch key={g.search} label={`Search ${table.name.toLowerCase()}`} value={g.search} />
        {sortSlug && <input type="hidden" name="sort" value={sortSlug} />}
        {g.ownerless && (
          <span className="tag">
            Belong to no company
            <Link className="link-plain ml-2" href={href({ belongs: "", page: "" })}>
              Show all
            </Link>
          </span>
        )}
        <span className="quiet text-sm">Choose a cell to change it. Nothing here is a draft: changes hold at once.</span>
      </form>
      <section className="sheet overflow-hidden" aria-label={table.name}>
        {rows.length > 0 ? (
          <Grid
            key={`${g.page} ${g.search} ${sortSlug} ${rows.map((r) => r.seen).join("")}`}
            portal={p.slug}
            tableId={table.id}
            singular={table.singular}
            fields={[...table.fields]}
            rows={rows}
            locale={{ locale: locale.locale, timeZone: locale.timeZone }}
            sort={g.sort}
            sortHrefs={sortHrefs}
            removable={table.kind === "ordinary"}
            whyAt={`${p.at}/check/${table.slug}`}
          />
        ) : g.search || g.ownerless ? (
          <Empty title="Nothing matches">
            None of the {count(p, g.all)} {table.name.toLowerCase()} has “{g.search}” in it.{" "}
            <Link className="link-plain" href={at}>
              Show all
            </Link>
          </Empty>
        ) : (
          <Empty title={`No ${table.name.toLowerCase()} yet`}>Add one, or import a CSV into this table.</Empty>
        )}
        <Pager
          page={g.page}
          pages={g.pages}
          size={GRID_PAGE}
          total={g.total}
          locale={locale.locale}
          href={(page) => href({ page: page === 1 ? "" : String(page) })}
        />
      </section>
    </div>
  );
}
