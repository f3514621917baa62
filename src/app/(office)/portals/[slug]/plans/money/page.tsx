import { MoneyPage } from "@/features/plans/ui/money-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Money" };

type Props = { params: Promise<{ slug: string }> };

export default async function Page({ params }: Props) {
  return <MoneyPage p={await officePortal((await params).slug, "bill")} />;
}
