import { RehearsalPage } from "@/features/rehearsal/ui/rehearsal-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Rehearsal" };

type Props = { params: Promise<{ slug: string }> };

export default async function Page({ params }: Props) {
  return <RehearsalPage p={await officePortal((await params).slug, "build")} />;
}
