/** The way back from "see as" to the back office; only the cookie of this portal is given up. */
import { requestPortal, sameOrigin, setSeeAsCookie } from "@/identity/request";

export async function POST(_: Request, { params }: { params: Promise<{ portal: string }> }): Promise<Response> {
  const { portal: slug } = await params;
  const r = await requestPortal(slug);
  if (!r || !(await sameOrigin())) return new Response("Not found", { status: 404 });
  await setSeeAsCookie(r.file.id, slug, "", 0);
  return new Response(null, { status: 303, headers: { location: `/portals/${slug}/check` } });
}
