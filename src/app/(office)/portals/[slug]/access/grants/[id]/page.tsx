import { notFound } from "next/navigation";
import { toDraft } from "@/core/filter/edit";
import { holdsFiles } from "@/core/schema/fields/natures";
import { accessView, peopleToCountFor } from "@/features/access/queries";
import { GrantEditor } from "@/features/access/ui/grant-editor";
import { officePortal } from "@/identity/requests/office-gate";
import { leadsNowhere, pathChoices } from "@/office/filter/paths";
import { Link } from "@/ui/link";

type Props = { params: Promise<{ slug: string; id: string }>; searchParams: Promise<{ table?: string }> };

export const metadata = { title: "A grant" };

export default async function Page({ params, searchParams }: Props) {
  const { slug, id } = await params;
  const p = await officePortal(slug, "build");
  const v = accessView(p);
  const grant = v.definition.grants.find((g) => g.id === id) ?? null;
  const { table: tableSlug } = await searchParams;
  const table = grant ? v.schema.findTable(grant.table) : v.schema.tableAt(tableSlug ?? "");
  if (!table || (!grant && id !== "new")) notFound();
  const paths = pathChoices(v.schema, table);
  let keys = 0;
  return (
    <div className="grid max-w-4xl gap-5 [&>*]:min-w-0">
      <Link className="link-plain text-sm" href={`${p.at}/access`}>
        Access
      </Link>
      <h1>{grant ? `A grant on ${table.name}` : `A new grant on ${table.name}`}</h1>
      <GrantEditor
        portal={slug}
        back={`${p.at}/access`}
        grant={{
          id: grant?.id ?? null,
          revision: v.revision,
          table: table.id,
          roles: [...(grant?.roles ?? [])],
          actions: [...(grant?.actions ?? (["see"] as const))],
          fields: [...(grant?.fields ?? [])],
          changes: [...(grant?.changes ?? [])],
          namesOnly: [...(grant?.namesOnly ?? [])],
          acts: [...(grant?.acts ?? [])],
          feature: grant?.feature ?? null,
          filter: toDraft(grant?.filter ?? null, v.schema, () => `s${++keys}`),
          validFrom: grant?.validFrom ?? null,
          validUntil: grant?.validUntil ?? null,
        }}
        table={{ id: table.id, name: table.name }}
        nowhere={leadsNowhere(paths, table)}
        people={peopleToCountFor(p, grant?.roles ?? [])}
        locale={v.definition.portal.locale}
        roles={v.definition.roles.map((r) => ({ id: r.id, name: r.name, side: r.side }))}
        fields={table.fields.map((f) => ({ id: f.id, name: f.name, system: f.system, files: holdsFiles(f) }))}
        features={v.definition.features}
        acts={v.definition.acts.filter((a) => a.table === table.id).map((a) => ({ id: a.id, name: a.name, on: a.on }))}
        paths={paths}
      />
    </div>
  );
}
