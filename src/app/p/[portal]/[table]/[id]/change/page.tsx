import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { changeInPortal } from "@/features/portal/door/actions";
import { portal, tableAt } from "@/features/portal/entry";
import { sayOf } from "@/features/portal/queries";
import { findRecords } from "@/features/portal/records/choice-actions";
import { changingForm } from "@/features/portal/records/forms";
import { RecordForm } from "@/ui/forms/record-form";

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
  const form = changingForm(r, table, id);
  if (!form) notFound();
  return (
    <div className="mx-auto grid max-w-2xl gap-6">
      <h1>{r.desk.label(table, form.record)}</h1>
      <div className="sheet p-6">
        <RecordForm
          action={changeInPortal}
          fields={form.fields}
          hidden={form.hidden}
          seen={form.seen}
          uploads={`${r.base}/-/uploads`}
          find={findRecords}
          closed={form.closed}
          submit={sayOf(r)("form.save")}
          cancelHref={`${r.base}/${table.slug}/${id}`}
        />
      </div>
    </div>
  );
}
