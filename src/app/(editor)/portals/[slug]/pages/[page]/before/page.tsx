import type { Metadata } from "next";
import { pagesView } from "@/features/pages/queries";
import { BeforeAfter } from "@/features/pages/ui/before-after";
import { officePortal } from "@/identity/office-gate";

type Props = { params: Promise<{ slug: string; page: string }>; searchParams: Promise<{ as?: string }> };

export const metadata: Metadata = { title: "Before and after" };

export default async function Page({ params, searchParams }: Props) {
  const { slug, page } = await params;
  const p = await officePortal(slug, "build");
  return <BeforeAfter p={p} v={pagesView(p)} page={decodeURIComponent(page)} as={(await searchParams).as} />;
}
