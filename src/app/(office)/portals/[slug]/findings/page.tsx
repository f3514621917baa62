import { FindingsPage } from "@/features/checks/ui/findings-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Findings" };

type Props = { params: Promise<{ slug: string }> };

export default async function Page({ params }: Props) {
  const asked = await params;
  return <FindingsPage p={await officePortal(asked.slug, "records")} params={asked} />;
}
