import { WordsPage } from "@/features/people/ui/messages/words-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "How messages read" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  return <WordsPage p={await officePortal((await params).slug, "build")} />;
}
