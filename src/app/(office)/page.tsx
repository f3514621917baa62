import { PortalsPage } from "@/features/office/ui/portals-page";
import { office } from "@/identity/requests/office-gate";

export default async function Page() {
  const { owner, staff } = await office("overview");
  return <PortalsPage owner={owner} staff={staff} />;
}
