import type { Metadata } from "next";
import { portal } from "@/features/portal/entry";
import type { Search } from "@/features/portal/queries";
import { PageView } from "@/features/portal/sections/page-view";
import { Behind } from "@/features/portal/ui/door/behind";
import { noteOf, recordPageAt } from "@/features/portal/ui/record-page";

type Props = {
  params: Promise<{ portal: string; table: string; id: string }>;
  searchParams: Promise<Search & { added?: string; saved?: string }>;
};

async function load(params: Props["params"]) {
  const { portal: slug, table: address, id } = await params;
  const r = await portal(slug);
  return { r, found: recordPageAt(r, address, id) };
}

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const { r, found } = await load(params);
  return { title: r.desk.label(found.about.table, found.about.record) };
}

export default async function Page({ params, searchParams }: Props) {
  const { r, found } = await load(params);
  const search = await searchParams;
  return (
    <Behind r={r} page={found.page}>
      <PageView r={r} page={found.page} about={found.about} search={search} note={noteOf(r, found, search)} />
    </Behind>
  );
}
