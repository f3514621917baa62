import { BinPage } from "@/features/data/ui/bin-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "Bin" };

type Props = { params: Promise<{ slug: string }>; searchParams: Promise<Record<string, string | string[] | undefined>> };

export default async function Page({ params, searchParams }: Props) {
  return <BinPage p={await officePortal((await params).slug, "records")} search={await searchParams} />;
}
