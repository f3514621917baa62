import { HookPage } from "@/features/connections/webhooks/hook-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Webhook" };

type Props = { params: Promise<{ slug: string; id: string }>; searchParams: Promise<{ before?: string | string[] }> };

export default async function Page({ params, searchParams }: Props) {
  const { slug, id } = await params;
  const { before } = await searchParams;
  return <HookPage p={await officePortal(slug, "build")} id={id} before={typeof before === "string" ? before : undefined} />;
}
