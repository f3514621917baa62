import { BrandPage } from "@/features/brand/ui/brand-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Brand" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  return <BrandPage p={await officePortal((await params).slug, "build")} />;
}
