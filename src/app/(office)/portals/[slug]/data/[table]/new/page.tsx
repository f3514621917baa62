import { NewRecordPage } from "@/features/data/ui/new-record-page";
import { officePortal } from "@/identity/requests/office-gate";

export default async function Page({ params }: { params: Promise<{ slug: string; table: string }> }) {
  const { slug, table } = await params;
  return <NewRecordPage p={await officePortal(slug, "records")} table={table} />;
}
