import { SheetPage } from "@/features/people/ui/list/sheet-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Invitations to hand over", referrer: "no-referrer" as const };

type Props = { params: Promise<{ slug: string }>; searchParams: Promise<{ batch?: string }> };

export default async function Page({ params, searchParams }: Props) {
  return <SheetPage p={await officePortal((await params).slug, "people")} batch={String((await searchParams).batch ?? "")} />;
}
