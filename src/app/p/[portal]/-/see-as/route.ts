/** From the back office to "see as", on this portal's host: the ticket becomes a cookie. */
import { beginSeeAs } from "@/features/portal/see-as";

export async function GET(request: Request, { params }: { params: Promise<{ portal: string }> }): Promise<Response> {
  return beginSeeAs((await params).portal, new URL(request.url).searchParams.get("ticket") ?? "");
}
