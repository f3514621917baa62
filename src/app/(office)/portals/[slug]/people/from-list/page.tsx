import { FromFilePage } from "@/features/people/ui/list/from-file-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Invite from a list" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  return <FromFilePage p={await officePortal((await params).slug, "people")} />;
}
