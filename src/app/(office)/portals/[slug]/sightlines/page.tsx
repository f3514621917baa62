import { SightlinesPage, type SightlinesSearch } from "@/features/checks/ui/sightlines-page";
import { officePortal } from "@/identity/requests/office-gate";

type Props = { params: Promise<{ slug: string }>; searchParams: Promise<SightlinesSearch> };

export const metadata = { title: "Sightlines" };

export default async function Page({ params, searchParams }: Props) {
  return <SightlinesPage p={await officePortal((await params).slug, "records")} search={await searchParams} />;
}
