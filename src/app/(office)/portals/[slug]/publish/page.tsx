import { PublishPage } from "@/features/access/ui/publish-page";
import { ImpactOf } from "@/features/checks/ui/impact-of";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Publish" };

type Props = { params: Promise<{ slug: string }>; searchParams: Promise<{ done?: string; stale?: string; waits?: string }> };

export default async function Page({ params, searchParams }: Props) {
  const asked = await params;
  return (
    <PublishPage
      p={await officePortal(asked.slug, "build")}
      params={asked}
      search={await searchParams}
      impact={<ImpactOf p={await officePortal(asked.slug, "build")} />}
    />
  );
}
