import type { Metadata } from "next";
import { notFound } from "next/navigation";
import type { Table } from "@/core/schema/types";
import { withArticle } from "@/core/text/article";
import { addInPortal } from "@/features/portal/door/actions";
import { portal, tableAt } from "@/features/portal/entry";
import { type Search, sayOf } from "@/features/portal/queries";
import { plainForm } from "@/features/portal/records/asked";
import { findRecords } from "@/features/portal/records/choice-actions";
import type { PortalRequest } from "@/identity/requests/request";
import { RecordForm } from "@/ui/forms/record-form";

const addWords = (r: PortalRequest, table: Table): string => sayOf(r)("list.add", { a_thing: withArticle(table.singular) });

type Props = { params: Promise<{ portal: string; table: string }>; searchParams: Promise<Search> };

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const { portal: slug, table: tableSlug } = await params;
  const r = await portal(slug);
  return { title: addWords(r, tableAt(r, tableSlug).table) };
}

export default async function Page({ params, searchParams }: Props) {
  const { portal: slug, table: tableSlug } = await params;
  const r = await portal(slug);
  const { table } = tableAt(r, tableSlug);
  const form = plainForm(r, table, await searchParams);
  if (!form) notFound();
  const at = `${r.base}/${table.slug}`;
  return (
    <div className="mx-auto grid max-w-2xl gap-6">
      <h1>{addWords(r, table)}</h1>
      <div className="sheet p-6">
        <RecordForm
          action={addInPortal}
          {...form}
          uploads={`${r.base}/-/uploads`}
          find={findRecords}
          submit={sayOf(r)("form.add-the", { thing: table.singular.toLowerCase() })}
          cancelHref={at}
        />
      </div>
    </div>
  );
}
