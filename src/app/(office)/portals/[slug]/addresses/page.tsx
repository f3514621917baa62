import { AddressesPage } from "@/features/addresses/ui/addresses-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Addresses" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  return <AddressesPage p={await officePortal((await params).slug, "build")} />;
}
