import { NewKeyPage } from "@/features/connections/keys/new-key-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "New key" };

type Props = { params: Promise<{ slug: string }>; searchParams: Promise<{ person?: string }> };

export default async function Page({ params, searchParams }: Props) {
  const p = await officePortal((await params).slug, "build");
  const { person } = await searchParams;
  return <NewKeyPage p={p} person={typeof person === "string" ? person.slice(0, 100) : undefined} />;
}
