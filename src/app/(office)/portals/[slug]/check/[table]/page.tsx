import { CheckTablePage } from "@/features/checks/ui/check-table-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Check" };

type Props = {
  params: Promise<{ slug: string; table: string }>;
  searchParams: Promise<{ as?: string; q?: string; page?: string; show?: string; of?: string }>;
};

export default async function Page({ params, searchParams }: Props) {
  const asked = await params;
  return <CheckTablePage p={await officePortal(asked.slug, "records")} params={asked} search={await searchParams} />;
}
