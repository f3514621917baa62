import { CheckPage } from "@/features/checks/ui/check-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Check" };

type Props = { params: Promise<{ slug: string }>; searchParams: Promise<{ as?: string }> };

export default async function Page({ params, searchParams }: Props) {
  const asked = await params;
  return <CheckPage p={await officePortal(asked.slug, "records")} params={asked} search={await searchParams} />;
}
