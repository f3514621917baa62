import type { Asked } from "@/features/access/ui/safeguard-form";
import { SafeguardsPage } from "@/features/access/ui/safeguards-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Safeguards" };

type Props = { params: Promise<{ slug: string }>; searchParams: Promise<Partial<Record<keyof Asked, string>>> };

export default async function Page({ params, searchParams }: Props) {
  const asked = await params;
  return <SafeguardsPage p={await officePortal(asked.slug, "records")} params={asked} search={await searchParams} />;
}
