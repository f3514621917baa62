import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { portal, toSignIn } from "@/features/portal/entry";
import { sayOf } from "@/features/portal/queries";
import { CompanyPage } from "@/features/portal/ui/own/company-page";
import { companyDesk } from "@/joining/company-page";

type Props = { params: Promise<{ portal: string }>; searchParams: Promise<{ new?: string }> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayOf(await portal((await params).portal))("company.title"),
});

export default async function Page({ params, searchParams }: Props) {
  const r = await portal((await params).portal);
  if (r.viewer.kind !== "person") toSignIn(r);
  const desk = companyDesk(r.file, r.viewer);
  if (!desk || !r.session) notFound();
  return <CompanyPage r={r} desk={desk} fresh={(await searchParams).new === "1"} />;
}
