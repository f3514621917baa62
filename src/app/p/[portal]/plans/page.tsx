import { portal } from "@/features/portal/gate";
import { Plans } from "@/features/portal/ui/plans";

export const metadata = { title: "Plans" };

export default async function Page({ params }: { params: Promise<{ portal: string }> }) {
  return <Plans r={await portal((await params).portal)} />;
}
