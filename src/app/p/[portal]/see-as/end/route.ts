/** The way back from "see as" to the back office; only the cookie of this portal is given up. */
import { requestPortal, sameOrigin, setSeeAsCookie } from "@/identity/request";

export async function POST(_: Request, { params }: { params: Promise<{ portal: string }> }): Promise<Response> {
  const { portal: slug } = await params;
  if (!(await requestPortal(slug)) || !(await sameOrigin())) return new Response("Not found", { status: 404 });
  await setSeeAsCookie(slug, "", 0);
  return new Response(null, { status: 303, headers: { location: `/portals/${slug}/check` } });
}
