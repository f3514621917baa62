import { SystemPage } from "@/features/connections/systems/system-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Another system" };

export default async function Page({ params }: { params: Promise<{ slug: string; id: string }> }) {
  const { slug, id } = await params;
  return <SystemPage p={await officePortal(slug, "build")} id={id} />;
}
