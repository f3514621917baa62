import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { pagesView, whoFrom } from "@/features/pages/queries";
import { PreviewBridge } from "@/features/pages/ui/editor/preview-bridge";
import { LaidSection } from "@/features/pages/ui/laid-section";
import { firstRecord } from "@/features/portal/laid";
import type { Search } from "@/features/portal/queries";
import { PageView } from "@/features/portal/sections/page-view";
import { Frame } from "@/features/portal/ui/frame/frame";
import { officePortal } from "@/identity/requests/office-gate";
import { previewRequest } from "@/identity/requests/preview";

type Props = { params: Promise<{ slug: string; page: string }>; searchParams: Promise<Search & { as?: string | string[]; live?: string }> };

export const metadata: Metadata = { title: "A page as it is laid out" };

/** In the editor's frame alone: the draft's page, for whoever is chosen, with nothing in it that leads or sends. */
export default async function Page({ params, searchParams }: Props) {
  const { slug, page: id } = await params;
  const p = await officePortal(slug, "build");
  const search = await searchParams;
  // Beside the draft, what clients meet now.
  const v = pagesView(p, search.live ? p.live.definition : undefined);
  const page = v.book.page(decodeURIComponent(id));
  const r = page && previewRequest(p, v.definition, whoFrom(search.as), `/${page.address}`);
  if (!page || !r) notFound();
  return (
    <Frame r={r} laidOut>
      <PreviewBridge />
      <PageView r={r} page={page} about={firstRecord(r, page)} search={{}} note={null} around={LaidSection} />
    </Frame>
  );
}
