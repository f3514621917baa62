import type { Metadata } from "next";
import { pagesView } from "@/features/pages/queries";
import { BeforeAfter } from "@/features/pages/ui/before-after";
import { officePortal } from "@/identity/requests/office-gate";

/** Given twice, the first counts. */
const oneOf = (v: string | string[] | undefined): string | undefined => (Array.isArray(v) ? v[0] : v);

type Props = { params: Promise<{ slug: string; page: string }>; searchParams: Promise<{ as?: string | string[] }> };

export const metadata: Metadata = { title: "Before and after" };

export default async function Page({ params, searchParams }: Props) {
  const { slug, page } = await params;
  const p = await officePortal(slug, "build");
  return <BeforeAfter p={p} v={pagesView(p)} page={decodeURIComponent(page)} as={oneOf((await searchParams).as)} />;
}
