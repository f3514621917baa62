import type { Metadata } from "next";
import { TablePage } from "@/features/data/ui/table-page";
import { officePortal } from "@/identity/requests/office-gate";

type Props = { params: Promise<{ slug: string; table: string }>; searchParams: Promise<Record<string, string | string[] | undefined>> };

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const { slug, table } = await params;
  return { title: (await officePortal(slug, "records")).live.policy.schema.tableAt(table)?.name ?? "Not found" };
}

export default async function Page({ params, searchParams }: Props) {
  const asked = await params;
  return <TablePage p={await officePortal(asked.slug, "records")} params={asked} search={await searchParams} />;
}
