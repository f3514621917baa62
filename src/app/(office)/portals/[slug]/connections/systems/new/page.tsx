import { NewSystemPage } from "@/features/connections/systems/new-system-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Connect a system" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  return <NewSystemPage p={await officePortal((await params).slug, "build")} />;
}
