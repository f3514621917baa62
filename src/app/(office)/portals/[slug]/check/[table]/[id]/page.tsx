import type { RecordAsked } from "@/features/checks/record";
import { CheckRecordPage } from "@/features/checks/ui/check-record-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Who sees it" };

type Props = { params: Promise<{ slug: string; table: string; id: string }>; searchParams: Promise<RecordAsked> };

export default async function Page({ params, searchParams }: Props) {
  const asked = await params;
  return <CheckRecordPage p={await officePortal(asked.slug, "records")} params={asked} search={await searchParams} />;
}
