import type { Metadata } from "next";
import { portal } from "@/features/portal/entry";
import { sayOf } from "@/features/portal/queries";
import { Plans } from "@/features/portal/ui/plans";

type Props = { params: Promise<{ portal: string }> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayOf(await portal((await params).portal))("plans.title"),
});

export default async function Page({ params }: Props) {
  return <Plans r={await portal((await params).portal)} />;
}
