import type { Metadata } from "next";
import { portal, tableAt } from "@/features/portal/gate";
import { missingFeatures, type Search, sayOf, standingHere } from "@/features/portal/queries";
import { List } from "@/features/portal/ui/list";
import { PlanNote } from "@/features/portal/ui/plan-note";

type Props = { params: Promise<{ portal: string; table: string }>; searchParams: Promise<Search> };

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const { portal: slug, table: tableSlug } = await params;
  const r = await portal(slug);
  const { name: things } = tableAt(r, tableSlug).table;
  return { title: things, description: sayOf(r)("list.description", { things, portal: r.published.definition.portal.name }) };
}

export default async function Page({ params, searchParams }: Props) {
  const { portal: slug, table: tableSlug } = await params;
  const r = await portal(slug);
  const { table, open } = tableAt(r, tableSlug);
  if (open) return <List r={r} table={table} search={await searchParams} />;
  return (
    <div className="grid gap-4">
      <h1>{table.name}</h1>
      <PlanNote
        base={r.base}
        say={sayOf(r)}
        things={table.name}
        features={missingFeatures(r, table)}
        lapsed={standingHere(r)?.state === "lapsed"}
      />
    </div>
  );
}
