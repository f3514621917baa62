import type { Metadata } from "next";
import { seeAs } from "@/features/checks/actions";
import { personName } from "@/features/people/choices";
import { PersonPage } from "@/features/people/ui/person/person-page";
import { officePortal } from "@/identity/requests/office-gate";

type Props = { params: Promise<{ slug: string; id: string }>; searchParams: Promise<{ again?: string }> };

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const { slug, id } = await params;
  return { title: personName(await officePortal(slug, "people"), id) ?? "Not found" };
}

export default async function Page({ params, searchParams }: Props) {
  const asked = await params;
  return (
    <PersonPage p={await officePortal(asked.slug, "people")} params={asked} seeAs={seeAs} again={(await searchParams).again === "1"} />
  );
}
