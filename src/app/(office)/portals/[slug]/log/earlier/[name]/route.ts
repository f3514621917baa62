import { earlierLogFile } from "@/features/log/log-file";

export async function GET(_request: Request, { params }: { params: Promise<{ slug: string; name: string }> }): Promise<Response> {
  const { slug, name } = await params;
  return earlierLogFile(slug, name);
}
