import { NewTablePage } from "@/features/data/ui/shape/new-table-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "New table" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  return <NewTablePage p={await officePortal((await params).slug, "build")} />;
}
