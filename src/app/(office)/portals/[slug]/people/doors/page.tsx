import { DoorsPage } from "@/features/people/ui/doors-page";
import { officePortal } from "@/identity/office-gate";

export const metadata = { title: "Doors" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  return <DoorsPage p={await officePortal((await params).slug, "build")} />;
}
