import { problemRows } from "@/features/data/import-files";

export async function GET(_: Request, { params }: { params: Promise<{ slug: string; id: string }> }): Promise<Response> {
  const { slug, id } = await params;
  return problemRows(slug, id);
}
