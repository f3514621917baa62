import { PortalsPage } from "@/features/office/ui/portals-page";
import { office } from "@/identity/office-gate";
import { hostAddress } from "@/identity/request";

export default async function Page() {
  const { owner, staff } = await office();
  return <PortalsPage owner={owner} staff={staff} address={await hostAddress()} />;
}
