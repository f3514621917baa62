import { MovePage } from "@/features/data/ui/move-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Move records" };

export default async function Page({ params }: { params: Promise<{ slug: string; table: string }> }) {
  const asked = await params;
  return <MovePage p={await officePortal(asked.slug, "records")} table={asked.table} />;
}
