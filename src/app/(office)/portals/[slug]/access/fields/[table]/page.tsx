import { notFound } from "next/navigation";
import { conditionWords } from "@/core/access/words/wording";
import { accessView } from "@/features/access/queries";
import { FieldGrid } from "@/features/access/ui/field-grid";
import { officePortal } from "@/identity/requests/office-gate";
import { Empty } from "@/ui/empty";
import { Link } from "@/ui/link";

export const metadata = { title: "Fields" };

export default async function Page({ params }: { params: Promise<{ slug: string; table: string }> }) {
  const { slug, table: tableSlug } = await params;
  const p = await officePortal(slug, "build");
  const v = accessView(p);
  const table = v.schema.tableAt(tableSlug);
  if (!table) notFound();
  const grants = v.definition.grants.filter((g) => g.table === table.id);
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <Link className="link-plain text-sm" href={`${p.at}/access#t-${table.id}`}>
        Access
      </Link>
      <div>
        <h1>Fields of {table.name}</h1>
        <p className="quiet mt-1 max-w-prose">
          A field is seen on a record if one of the grants that match it lists the field. Grants add up; none takes away. A field’s name
          leads to everybody who sees it.
        </p>
      </div>
      {grants.length === 0 ? (
        <div className="sheet">
          <Empty title="No grant yet">Nobody but the owner sees {table.name}, so there is no field to pick.</Empty>
        </div>
      ) : (
        <FieldGrid
          portal={slug}
          back={`${p.at}/access#t-${table.id}`}
          at={`${p.at}/access/fields/${table.slug}`}
          revision={v.revision}
          table={table.id}
          fields={table.fields.map(({ id, slug, name, system }) => ({ id, slug, name, system }))}
          grants={grants.map((g) => ({
            id: g.id,
            roles: g.roles.map((r) => v.policy.role(r)?.name ?? r).join(", "),
            words: `${g.actions.join(", ")}${g.filter ? ` where ${conditionWords(v.schema, g.filter, v.names)}` : ""}`,
            writes: g.actions.includes("add") || g.actions.includes("change"),
            fields: g.fields,
            changes: g.changes,
          }))}
        />
      )}
    </div>
  );
}
