import type { Metadata } from "next";
import { ReferencePage } from "@/features/api/reference/reference-page";
import { portal, toSignIn } from "@/features/portal/entry";
import { openTables, sayOf } from "@/features/portal/queries";
import { portalAddress } from "@/identity/requests/addresses";

type Props = { params: Promise<{ portal: string }> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayOf(await portal((await params).portal))("reference.title"),
});

export default async function Page({ params }: Props) {
  const r = await portal((await params).portal);
  if (r.viewer.kind === "visitor" && openTables(r).length === 0) toSignIn(r);
  return <ReferencePage r={r} origin={new URL(portalAddress(r.slug)).origin} />;
}
