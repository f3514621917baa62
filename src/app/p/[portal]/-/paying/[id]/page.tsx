import type { Metadata } from "next";
import { sayHere } from "@/features/pay/here";
import { PayingPage } from "@/features/pay/ui/paying-page";
import { portal } from "@/features/portal/entry";

type Props = { params: Promise<{ portal: string; id: string }>; searchParams: Promise<{ key?: string }> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayHere(await portal((await params).portal))("paying.title"),
});

export default async function Page({ params, searchParams }: Props) {
  const { portal: slug, id } = await params;
  return <PayingPage r={await portal(slug)} id={id} sign={(await searchParams).key ?? ""} />;
}
