import { HookFormPage } from "@/features/connections/webhooks/hook-form-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "New webhook" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  return <HookFormPage p={await officePortal((await params).slug, "build")} id={null} />;
}
