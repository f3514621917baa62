import { archiveUpload } from "@/features/data/import-files";

async function answer(request: Request, { params }: { params: Promise<{ slug: string; id: string }> }): Promise<Response> {
  const { slug, id } = await params;
  return archiveUpload(request, slug, id);
}

export { answer as HEAD, answer as PATCH, answer as POST };
