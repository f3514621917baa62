import { FromFilePage } from "@/features/people/ui/from-file-page";
import { officePortal } from "@/identity/office-gate";

export const metadata = { title: "Invite from a list" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  return <FromFilePage p={await officePortal((await params).slug, "people")} />;
}
