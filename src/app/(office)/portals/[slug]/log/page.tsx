import type { LogSearch } from "@/features/log/asked";
import { LogPage } from "@/features/log/ui/log-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "What happened" };

type Props = { params: Promise<{ slug: string }>; searchParams: Promise<LogSearch> };

export default async function Page({ params, searchParams }: Props) {
  return <LogPage p={await officePortal((await params).slug, "people")} search={await searchParams} />;
}
