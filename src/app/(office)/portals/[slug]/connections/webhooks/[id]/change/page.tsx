import { HookFormPage } from "@/features/connections/webhooks/hook-form-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Change the webhook" };

export default async function Page({ params }: { params: Promise<{ slug: string; id: string }> }) {
  const { slug, id } = await params;
  return <HookFormPage p={await officePortal(slug, "build")} id={id} />;
}
