import { ShapePage } from "@/features/data/ui/shape/shape-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Shape of a table" };

type Props = { params: Promise<{ slug: string; table: string }>; searchParams: Promise<{ kept?: string }> };

export default async function Page({ params, searchParams }: Props) {
  const asked = await params;
  return <ShapePage p={await officePortal(asked.slug, "build")} table={asked.table} kept={(await searchParams).kept === "1"} />;
}
