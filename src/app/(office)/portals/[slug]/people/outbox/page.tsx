import { OutboxPage } from "@/features/people/ui/messages/outbox-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Outbox" };

type Props = {
  params: Promise<{ slug: string }>;
  searchParams: Promise<{ q?: string; state?: string; batch?: string; person?: string; page?: string }>;
};

export default async function Page({ params, searchParams }: Props) {
  return <OutboxPage p={await officePortal((await params).slug, "people")} search={await searchParams} />;
}
