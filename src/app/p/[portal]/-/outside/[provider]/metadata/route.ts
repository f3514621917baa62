import { outsideRoute } from "@/features/portal/door/outside";

type Context = { params: Promise<{ portal: string; provider: string }> };

export async function GET(request: Request, { params }: Context): Promise<Response> {
  const { portal, provider } = await params;
  return outsideRoute(request, portal, provider, "metadata");
}
