import { WaitingPage } from "@/features/people/ui/doors/waiting-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Waiting for approval" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  return <WaitingPage p={await officePortal((await params).slug, "people")} />;
}
