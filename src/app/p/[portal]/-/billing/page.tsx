import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { mayPay, sayHere } from "@/features/pay/here";
import { BillingPage } from "@/features/pay/ui/billing-page";
import { portal, toSignIn } from "@/features/portal/entry";

type Props = { params: Promise<{ portal: string }> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayHere(await portal((await params).portal))("billing.title"),
});

export default async function Page({ params }: Props) {
  const r = await portal((await params).portal);
  if (r.viewer.kind !== "person") toSignIn(r);
  if (!mayPay(r) && !r.viewer.company) notFound();
  return <BillingPage r={r} />;
}
