import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { formFields } from "@/data/records/form";
import { etagOf } from "@/data/records/write/write";
import { changeInPortal } from "@/features/portal/actions";
import { actingAs } from "@/features/portal/forms";
import { portal, tableAt } from "@/features/portal/gate";
import { sayOf } from "@/features/portal/queries";
import { RecordForm } from "@/ui/record-form";

type Props = { params: Promise<{ portal: string; table: string; id: string }> };

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const { portal: slug, table: tableSlug, id } = await params;
  const r = await portal(slug);
  const { table } = tableAt(r, tableSlug);
  const record = r.desk.read(table, id);
  if (!record) notFound();
  return { title: sayOf(r)("sheet.change-of", { record: r.desk.label(table, record) }) };
}

export default async function Page({ params }: Props) {
  const { portal: slug, table: tableSlug, id } = await params;
  const r = await portal(slug);
  const { table } = tableAt(r, tableSlug);
  const record = r.desk.read(table, id);
  const fields = record ? r.desk.changeable(table, id).filter((f) => f.id in record.fields) : [];
  if (!record || fields.length === 0 || r.seeAs) notFound();
  return (
    <div className="mx-auto grid max-w-2xl gap-6">
      <h1>{r.desk.label(table, record)}</h1>
      <div className="sheet p-6">
        <RecordForm
          action={changeInPortal}
          fields={formFields(r.desk, fields, record)}
          hidden={{ $acting: actingAs(r), $table: table.slug, $id: id }}
          seen={etagOf(record)}
          submit={sayOf(r)("form.save")}
          cancelHref={`${r.base}/${table.slug}/${id}`}
        />
      </div>
    </div>
  );
}
