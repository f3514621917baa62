/** The back office is nobody's to find. */
export const dynamic = "force-dynamic";

export const GET = (): Response =>
  new Response("User-agent: *\nDisallow: /\n", { headers: { "content-type": "text/plain; charset=utf-8" } });
