import type { Metadata } from "next";
import { notFound, redirect } from "next/navigation";
import { portal, tableAt } from "@/features/portal/gate";
import { sayOf } from "@/features/portal/queries";
import { Sheet } from "@/features/portal/ui/sheet";

type Props = { params: Promise<{ portal: string; table: string; id: string }>; searchParams: Promise<{ added?: string; saved?: string }> };

async function load(params: Props["params"]) {
  const { portal: slug, table: tableSlug, id } = await params;
  const r = await portal(slug);
  const { table } = tableAt(r, tableSlug);
  const record = r.desk.read(table, id) ?? r.desk.readByAddress(table, id);
  if (!record) notFound();
  // One address for each record, so that what is shared is what can be read; former ones lead to it.
  const address = r.desk.addressOf(table, record);
  if (address !== id) redirect(`${r.base}/${table.slug}/${address}${/\?.*$/.exec(r.path)?.[0] ?? ""}`);
  return { r, table, record };
}

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const { r, table, record } = await load(params);
  return { title: r.desk.label(table, record) };
}

export default async function Page({ params, searchParams }: Props) {
  const { r, table, record } = await load(params);
  const { added, saved } = await searchParams;
  const say = sayOf(r);
  const note = added ? say("sheet.added", { thing: table.singular.toLowerCase() }) : saved ? say("sheet.saved") : null;
  const changeable = r.desk.changeable(table, record.id).length > 0;
  return <Sheet r={r} table={table} record={record} note={note} changeable={changeable} />;
}
