import type { Metadata } from "next";
import { OrderPage } from "@/features/pay/ui/order-page";
import { portal } from "@/features/portal/entry";

type Props = { params: Promise<{ portal: string; token: string }> };

export const metadata: Metadata = { robots: "noindex", referrer: "no-referrer" };

export default async function Page({ params }: Props) {
  const { portal: slug, token } = await params;
  return <OrderPage r={await portal(slug)} token={decodeURIComponent(token)} />;
}
