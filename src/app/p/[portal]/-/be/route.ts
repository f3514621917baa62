/** From the back office into a rehearsal, as somebody of it. */
import { beSomebody } from "@/features/rehearsal/be";

export async function GET(request: Request, { params }: { params: Promise<{ portal: string }> }): Promise<Response> {
  return beSomebody((await params).portal, new URL(request.url).searchParams.get("ticket") ?? "");
}
