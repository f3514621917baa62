import { ImportPage } from "@/features/data/ui/import/import-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Import" };

type Props = { params: Promise<{ slug: string; id: string }>; searchParams: Promise<{ map?: string }> };

export default async function Page({ params, searchParams }: Props) {
  const asked = await params;
  return <ImportPage p={await officePortal(asked.slug, "build")} params={asked} search={await searchParams} />;
}
