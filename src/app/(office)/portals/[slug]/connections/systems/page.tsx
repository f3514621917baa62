import { SystemsPage } from "@/features/connections/systems/systems-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Other systems" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  return <SystemsPage p={await officePortal((await params).slug, "build")} />;
}
