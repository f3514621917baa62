import { KeysPage } from "@/features/connections/keys/keys-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Keys" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  return <KeysPage p={await officePortal((await params).slug, "build")} />;
}
