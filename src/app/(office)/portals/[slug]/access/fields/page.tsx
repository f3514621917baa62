import { notFound, redirect } from "next/navigation";
import { officePortal } from "@/identity/requests/office-gate";

type Props = { params: Promise<{ slug: string }>; searchParams: Promise<{ field?: string }> };

/** Where the choice of a field on the Access page leads: to that field's own page. */
export default async function Page({ params, searchParams }: Props) {
  const p = await officePortal((await params).slug, "build");
  const field = p.live.policy.schema.findField((await searchParams).field ?? "");
  if (!field) notFound();
  redirect(`${p.at}/access/fields/${p.live.policy.schema.table(field.tableId).slug}/${field.slug}`);
}
