import { portal } from "@/features/portal/entry";
import { pageAt } from "@/features/portal/pages-for";
import type { Search } from "@/features/portal/queries";
import { PageView } from "@/features/portal/sections/page-view";
import { Behind } from "@/features/portal/ui/door/behind";

type Props = { params: Promise<{ portal: string }>; searchParams: Promise<Search> };

export default async function Page({ params, searchParams }: Props) {
  const r = await portal((await params).portal);
  const page = pageAt(r, "");
  return (
    <Behind r={r} page={page}>
      <PageView r={r} page={page} about={null} search={await searchParams} note={null} />
    </Behind>
  );
}
