import { MessagePage } from "@/features/people/ui/messages/message-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Message" };

export default async function Page({ params }: { params: Promise<{ slug: string; message: string }> }) {
  const asked = await params;
  return <MessagePage p={await officePortal(asked.slug, "people")} id={asked.message} />;
}
