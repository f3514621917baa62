import { notFound } from "next/navigation";
import type { Field } from "@/core/schema/types";
import { withArticle } from "@/core/text/article";
import { listRecords } from "@/data/records/query/read";
import { addInGrid } from "@/features/data/actions";
import { type OfficePortal, officePortal } from "@/identity/office-gate";
import { type FormField, RecordForm } from "@/ui/record-form";

type Props = { params: Promise<{ slug: string; table: string }> };

function choicesOf(p: OfficePortal, f: Field): FormField["choices"] {
  if (f.type === "choice" || f.type === "choices") return (f.options.choices ?? []).map((c) => ({ value: c, label: c }));
  if (f.type === "yes-no")
    return [
      { value: "yes", label: "Yes" },
      { value: "no", label: "No" },
    ];
  if (!f.options.target) return undefined;
  const target = p.live.policy.schema.table(f.options.target);
  return listRecords(p.file, p.live.policy, p.owner, target.id, { limit: 1000, only: new Set([target.labelFieldId]) }).records.map((r) => ({
    value: r.id,
    label: String(r.fields[target.labelFieldId] ?? target.singular),
  }));
}

export default async function Page({ params }: Props) {
  const { slug, table: tableSlug } = await params;
  const p = await officePortal(slug);
  const table = p.live.policy.schema.tableBySlug(tableSlug);
  if (table?.kind !== "ordinary") notFound();
  const fields = table.fields
    .filter((f) => !f.system)
    .map((f): FormField => {
      const choices = choicesOf(p, f);
      return {
        id: f.id,
        name: f.name,
        type: f.type,
        required: f.options.required ?? false,
        value: f.type === "relations" || f.type === "choices" ? [] : "",
        ...(choices ? { choices } : {}),
        ...(f.type === "money" ? { hint: `In ${f.options.currency}.` } : {}),
      };
    });
  return (
    <div className="grid max-w-2xl gap-6">
      <h1>Add {withArticle(table.singular)}</h1>
      <div className="sheet p-6">
        <RecordForm
          action={addInGrid.bind(null, slug)}
          fields={fields}
          hidden={{ $table: table.slug }}
          submit={`Add the ${table.singular.toLowerCase()}`}
          cancelHref={`${p.at}/data/${table.slug}`}
        />
      </div>
    </div>
  );
}
