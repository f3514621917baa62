import { WordsPage } from "@/features/people/ui/words-page";
import { officePortal } from "@/identity/office-gate";

export const metadata = { title: "How messages read" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  return <WordsPage p={await officePortal((await params).slug, "build")} />;
}
