import type { Search } from "@/features/people/queries";
import { PeoplePage } from "@/features/people/ui/list/people-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "People and companies" };

type Props = {
  params: Promise<{ slug: string }>;
  searchParams: Promise<Search>;
};

export default async function Page({ params, searchParams }: Props) {
  const asked = await params;
  return <PeoplePage p={await officePortal(asked.slug, "people")} params={asked} search={await searchParams} />;
}
