/** The process answers: nothing more is said, to any host. */
export const dynamic = "force-dynamic";

export const GET = (): Response => Response.json({ status: "ok" }, { headers: { "cache-control": "no-store" } });
