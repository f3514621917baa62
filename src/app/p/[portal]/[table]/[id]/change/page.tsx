import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { readRecord } from "@/data/records/query/read";
import { changeableFields, etagOf } from "@/data/records/write/write";
import { changeInPortal } from "@/features/portal/actions";
import { actingAs, formFields } from "@/features/portal/forms";
import { portal, tableAt } from "@/features/portal/gate";
import { labelOf } from "@/features/portal/queries";
import { RecordForm } from "@/ui/record-form";

type Props = { params: Promise<{ portal: string; table: string; id: string }> };

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const { portal: slug, table: tableSlug, id } = await params;
  const r = await portal(slug);
  const { table } = tableAt(r, tableSlug);
  const record = readRecord(r.file, r.published.policy, r.viewer, table.id, id);
  if (!record) notFound();
  return { title: `Change ${labelOf(table, record)}` };
}

export default async function Page({ params }: Props) {
  const { portal: slug, table: tableSlug, id } = await params;
  const r = await portal(slug);
  const { table } = tableAt(r, tableSlug);
  const record = readRecord(r.file, r.published.policy, r.viewer, table.id, id);
  const may = new Set(record ? changeableFields(r.file, r.published.policy, r.viewer, table.id, id) : []);
  if (!record || may.size === 0 || r.seeAs) notFound();
  const fields = table.fields.filter((f) => may.has(f.id) && f.id in record.fields);
  return (
    <div className="mx-auto grid max-w-2xl gap-6">
      <h1>{labelOf(table, record)}</h1>
      <div className="sheet p-6">
        <RecordForm
          action={changeInPortal}
          fields={formFields(r, fields, record)}
          hidden={{ $acting: actingAs(r), $table: table.slug, $id: id }}
          seen={etagOf(record)}
          submit="Save"
          cancelHref={`${r.base}/${table.slug}/${id}`}
        />
      </div>
    </div>
  );
}
