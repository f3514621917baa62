import { DataPage } from "@/features/data/ui/data-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Data" };

type Props = { params: Promise<{ slug: string }> };

export default async function Page({ params }: Props) {
  const asked = await params;
  return <DataPage p={await officePortal(asked.slug, "records")} params={asked} />;
}
