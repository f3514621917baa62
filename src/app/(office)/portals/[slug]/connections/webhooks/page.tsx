import { HooksPage } from "@/features/connections/webhooks/hooks-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Webhooks" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  return <HooksPage p={await officePortal((await params).slug, "build")} />;
}
