import { PlansPage } from "@/features/plans/ui/plans-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Plans" };

type Props = { params: Promise<{ slug: string }> };

export default async function Page({ params }: Props) {
  const asked = await params;
  return <PlansPage p={await officePortal(asked.slug, "bill")} params={asked} />;
}
