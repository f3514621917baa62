import { receiveUpload } from "@/features/data/import-files";

export async function POST(request: Request, { params }: { params: Promise<{ slug: string }> }): Promise<Response> {
  return receiveUpload(request, (await params).slug);
}
