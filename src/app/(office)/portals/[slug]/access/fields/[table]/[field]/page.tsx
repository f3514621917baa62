import { FieldPage } from "@/features/checks/ui/field-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Who sees a field" };

type Props = { params: Promise<{ slug: string; table: string; field: string }>; searchParams: Promise<{ of?: string }> };

export default async function Page({ params, searchParams }: Props) {
  const asked = await params;
  return <FieldPage p={await officePortal(asked.slug, "build")} params={asked} search={await searchParams} />;
}
