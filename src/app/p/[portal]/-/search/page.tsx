import type { Metadata } from "next";
import { portal, toSignIn } from "@/features/portal/entry";
import { openTables, type Search, sayOf } from "@/features/portal/queries";
import { SearchPage } from "@/features/portal/ui/search-page";

type Props = { params: Promise<{ portal: string }>; searchParams: Promise<Search> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayOf(await portal((await params).portal))("search.title"),
});

export default async function Page({ params, searchParams }: Props) {
  const r = await portal((await params).portal);
  if (r.viewer.kind === "visitor" && openTables(r).length === 0) toSignIn(r);
  return <SearchPage r={r} search={await searchParams} />;
}
