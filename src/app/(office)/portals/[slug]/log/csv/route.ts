import { logFile } from "@/features/log/log-file";

export async function GET(request: Request, { params }: { params: Promise<{ slug: string }> }): Promise<Response> {
  return logFile(request, (await params).slug);
}
