import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { pagesView } from "@/features/pages/queries";
import { EditorPage } from "@/features/pages/ui/editor-page";
import { laidFor } from "@/features/portal/laid";
import { officePortal } from "@/identity/requests/office-gate";
import { previewRequest } from "@/identity/requests/preview";

/** Given twice, the first counts. */
const oneOf = (v: string | string[] | undefined): string | undefined => (Array.isArray(v) ? v[0] : v);

type Props = { params: Promise<{ slug: string; page: string }>; searchParams: Promise<{ as?: string | string[] }> };

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const { slug, page } = await params;
  const p = await officePortal(slug, "build");
  return { title: pagesView(p).book.page(decodeURIComponent(page))?.name ?? "Page" };
}

export default async function Page({ params, searchParams }: Props) {
  const { slug, page: id } = await params;
  const p = await officePortal(slug, "build");
  const v = pagesView(p);
  const page = v.book.page(decodeURIComponent(id));
  if (!page) notFound();
  const as = oneOf((await searchParams).as);
  return (
    <EditorPage p={p} v={v} page={page} as={as} laid={(who) => laidFor(previewRequest(p, v.definition, who, `/${page.address}`), page)} />
  );
}
