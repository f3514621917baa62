import { FieldShapePage } from "@/features/data/ui/shape/field-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "A field" };

type Props = { params: Promise<{ slug: string; table: string; field: string }>; searchParams: Promise<{ kept?: string }> };

export default async function Page({ params, searchParams }: Props) {
  const asked = await params;
  return (
    <FieldShapePage
      p={await officePortal(asked.slug, "build")}
      table={asked.table}
      field={asked.field}
      kept={(await searchParams).kept === "1"}
    />
  );
}
