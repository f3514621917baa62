import { ofPortal } from "@/features/brand/routes";

export async function GET(_: Request, { params }: { params: Promise<{ portal: string; hash: string }> }): Promise<Response> {
  const { portal, hash } = await params;
  return ofPortal(portal, hash);
}
