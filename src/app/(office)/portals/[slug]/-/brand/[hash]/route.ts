import { ofOffice } from "@/features/brand/routes";

export async function GET(_: Request, { params }: { params: Promise<{ slug: string; hash: string }> }): Promise<Response> {
  const { slug, hash } = await params;
  return ofOffice(slug, hash);
}
