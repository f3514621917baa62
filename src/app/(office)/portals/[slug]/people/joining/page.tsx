import { JoiningPage } from "@/features/people/ui/doors/joining-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Joining" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  return <JoiningPage p={await officePortal((await params).slug, "build")} />;
}
