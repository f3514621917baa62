import { notFound } from "next/navigation";
import { withArticle } from "@/core/text/article";
import { formFields } from "@/data/records/form";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { RecordForm } from "@/ui/forms/record-form";
import { addInGrid, relationChoices } from "../actions";

/** The form for a new record, as the agency fills it in. */
export function NewRecordPage({ p, table: tableSlug }: { p: OfficePortal; table: string }) {
  const table = p.live.policy.schema.tableAt(tableSlug);
  if (table?.kind !== "ordinary") notFound();
  return (
    <div className="grid max-w-2xl gap-6">
      <h1>Add {withArticle(table.singular)}</h1>
      <div className="sheet p-6">
        <RecordForm
          action={addInGrid.bind(null, p.slug)}
          fields={formFields(p.desk, p.desk.settable(table, "add"), null)}
          hidden={{ $table: table.slug }}
          uploads={`${p.at}/-/uploads`}
          find={relationChoices.bind(null, p.slug)}
          submit={`Add the ${table.singular.toLowerCase()}`}
          cancelHref={`${p.at}/data/${table.slug}`}
        />
      </div>
    </div>
  );
}
