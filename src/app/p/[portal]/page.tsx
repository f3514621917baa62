import { Home } from "@/features/portal/ui/home";
import { portal } from "@/features/portal/gate";

export default async function Page({ params }: { params: Promise<{ portal: string }> }) {
  return <Home r={await portal((await params).portal)} />;
}
