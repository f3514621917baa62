import { moreRows } from "@/features/data/more-rows";

export async function GET(request: Request, { params }: { params: Promise<{ slug: string; table: string }> }): Promise<Response> {
  return moreRows(request, await params);
}
