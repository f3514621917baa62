import { DoorsPage } from "@/features/people/ui/doors/doors-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Doors" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  return <DoorsPage p={await officePortal((await params).slug, "build")} />;
}
