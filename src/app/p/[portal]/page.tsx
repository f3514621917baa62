import { portal } from "@/features/portal/gate";
import { Home } from "@/features/portal/ui/home";

export default async function Page({ params }: { params: Promise<{ portal: string }> }) {
  return <Home r={await portal((await params).portal)} />;
}
