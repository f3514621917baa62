import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { sayHere } from "@/features/pay/here";
import { invoiceHere } from "@/features/pay/invoice";
import { InvoicePage } from "@/features/pay/ui/invoice-page";
import { portal, toSignIn } from "@/features/portal/entry";

type Props = { params: Promise<{ portal: string; id: string }> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayHere(await portal((await params).portal))("billing.invoices"),
});

export default async function Page({ params }: Props) {
  const { portal: slug, id } = await params;
  const r = await portal(slug);
  if (r.viewer.kind !== "person") toSignIn(r);
  return <InvoicePage r={r} seen={invoiceHere(r, id) ?? notFound()} files={`${r.base}/-/invoices/${id}`} />;
}
