import { PagesPage } from "@/features/pages/ui/pages-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Pages" };

type Props = { params: Promise<{ slug: string }> };

export default async function Page({ params }: Props) {
  const asked = await params;
  return <PagesPage p={await officePortal(asked.slug, "build")} />;
}
