import { ReadingPage } from "@/features/connections/systems/reading-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "A reading" };

type Props = { params: Promise<{ slug: string; id: string; n: string }>; searchParams: Promise<{ page?: string | string[] }> };

export default async function Page({ params, searchParams }: Props) {
  const { slug, id, n } = await params;
  const { page } = await searchParams;
  return <ReadingPage p={await officePortal(slug, "build")} id={id} n={n} page={typeof page === "string" ? page : undefined} />;
}
