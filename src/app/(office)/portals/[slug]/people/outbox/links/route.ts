import { linksFile } from "@/features/people/links-file";

export async function GET(request: Request, { params }: { params: Promise<{ slug: string }> }): Promise<Response> {
  return linksFile((await params).slug, new URL(request.url).searchParams.get("batch") ?? "");
}
