import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { withArticle } from "@/core/text/article";
import { formFields } from "@/data/records/form";
import { addInPortal } from "@/features/portal/actions";
import { actingAs } from "@/features/portal/forms";
import { portal, tableAt } from "@/features/portal/gate";
import { RecordForm } from "@/ui/record-form";

type Props = { params: Promise<{ portal: string; table: string }> };

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const { portal: slug, table: tableSlug } = await params;
  return { title: `Add ${withArticle(tableAt(await portal(slug), tableSlug).table.singular)}` };
}

export default async function Page({ params }: Props) {
  const { portal: slug, table: tableSlug } = await params;
  const r = await portal(slug);
  const { table } = tableAt(r, tableSlug);
  if (!r.desk.may(table, "add") || r.seeAs) notFound();
  const at = `${r.base}/${table.slug}`;
  return (
    <div className="mx-auto grid max-w-2xl gap-6">
      <h1>Add {withArticle(table.singular)}</h1>
      <div className="sheet p-6">
        <RecordForm
          action={addInPortal}
          fields={formFields(r.desk, r.desk.settable(table, "add"), null)}
          hidden={{ $acting: actingAs(r), $table: table.slug }}
          submit={`Add the ${table.singular.toLowerCase()}`}
          cancelHref={at}
        />
      </div>
    </div>
  );
}
