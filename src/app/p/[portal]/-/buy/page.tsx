import type { Metadata } from "next";
import { sayHere } from "@/features/pay/here";
import { BuyPage } from "@/features/pay/ui/buy-page";
import { portal } from "@/features/portal/entry";
import { Plans } from "@/features/portal/ui/plans";

type Props = { params: Promise<{ portal: string }>; searchParams: Promise<Record<string, string | string[] | undefined>> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayHere(await portal((await params).portal))("buy.title"),
});

export default async function Page({ params, searchParams }: Props) {
  const r = await portal((await params).portal);
  return <BuyPage r={r} query={await searchParams} plans={<Plans r={r} />} />;
}
