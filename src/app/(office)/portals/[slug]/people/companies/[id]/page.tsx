import { PartCompanyPage } from "@/features/people/ui/person/part-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Merge companies" };

export default async function Page({ params }: { params: Promise<{ slug: string; id: string }> }) {
  const asked = await params;
  return <PartCompanyPage p={await officePortal(asked.slug, "people")} id={asked.id} />;
}
