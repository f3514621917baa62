import { ComparePage } from "@/features/checks/ui/compare-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Two people" };

type Props = { params: Promise<{ slug: string }>; searchParams: Promise<{ one?: string; other?: string }> };

export default async function Page({ params, searchParams }: Props) {
  const asked = await params;
  return <ComparePage p={await officePortal(asked.slug, "records")} params={asked} search={await searchParams} />;
}
