import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { readRecord } from "@/data/records/query/read";
import { changeableFields } from "@/data/records/write/write";
import { portal, tableAt } from "@/features/portal/gate";
import { labelOf } from "@/features/portal/queries";
import { Sheet } from "@/features/portal/ui/sheet";

type Props = { params: Promise<{ portal: string; table: string; id: string }>; searchParams: Promise<{ added?: string; saved?: string }> };

async function load(params: Props["params"]) {
  const { portal: slug, table: tableSlug, id } = await params;
  const r = await portal(slug);
  const { table } = tableAt(r, tableSlug);
  const record = readRecord(r.file, r.published.policy, r.viewer, table.id, id);
  if (!record) notFound();
  return { r, table, record };
}

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const { table, record } = await load(params);
  return { title: labelOf(table, record) };
}

export default async function Page({ params, searchParams }: Props) {
  const { r, table, record } = await load(params);
  const { added, saved } = await searchParams;
  const note = added ? `Your ${table.singular.toLowerCase()} has been added.` : saved ? "Your change has been saved." : null;
  const changeable = changeableFields(r.file, r.published.policy, r.viewer, table.id, record.id).length > 0;
  return <Sheet r={r} table={table} record={record} note={note} changeable={changeable} />;
}
