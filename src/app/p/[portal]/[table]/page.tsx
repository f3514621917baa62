import type { Metadata } from "next";
import { portal } from "@/features/portal/entry";
import { pageAt } from "@/features/portal/pages-for";
import { type Search, sayOf } from "@/features/portal/queries";
import { PageView } from "@/features/portal/sections/page-view";
import { Behind } from "@/features/portal/ui/door/behind";

type Props = { params: Promise<{ portal: string; table: string }>; searchParams: Promise<Search> };

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const { portal: slug, table: address } = await params;
  const r = await portal(slug);
  const { name: things } = pageAt(r, address);
  return { title: things, description: sayOf(r)("list.description", { things, portal: r.published.definition.portal.name }) };
}

export default async function Page({ params, searchParams }: Props) {
  const { portal: slug, table: address } = await params;
  const r = await portal(slug);
  const page = pageAt(r, address);
  return (
    <Behind r={r} page={page}>
      <PageView r={r} page={page} about={null} search={await searchParams} note={null} />
    </Behind>
  );
}
