import { MakePage } from "@/features/people/ui/making/make-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "People or companies" };

export default async function Page({ params }: { params: Promise<{ slug: string; table: string }> }) {
  const asked = await params;
  return <MakePage p={await officePortal(asked.slug, "build")} table={asked.table} />;
}
