import { RolePage } from "@/features/access/ui/role-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "A role" };

export default async function Page({ params }: { params: Promise<{ slug: string; id: string }> }) {
  const { slug, id } = await params;
  return <RolePage p={await officePortal(slug, "build")} id={id} />;
}
