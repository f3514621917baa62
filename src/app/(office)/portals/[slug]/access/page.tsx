import { AccessPage } from "@/features/access/ui/access-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Access" };

type Props = { params: Promise<{ slug: string }>; searchParams: Promise<{ by?: string }> };

export default async function Page({ params, searchParams }: Props) {
  const asked = await params;
  return <AccessPage p={await officePortal(asked.slug, "build")} params={asked} search={await searchParams} />;
}
