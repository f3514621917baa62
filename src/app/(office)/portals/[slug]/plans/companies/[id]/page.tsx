import { notFound } from "next/navigation";
import { companyNamed } from "@/features/plans/company";
import { CompanyMoneyPage } from "@/features/plans/ui/company-money-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "A company's money" };

type Props = { params: Promise<{ slug: string; id: string }> };

export default async function Page({ params }: Props) {
  const { slug, id } = await params;
  const p = await officePortal(slug, "bill");
  return <CompanyMoneyPage p={p} company={companyNamed(p, id) ?? notFound()} />;
}
