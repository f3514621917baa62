/** Into "see as" by a ticket of the back office, and out of it again; only the cookie of this portal is given up. */
import { officeAddress } from "@/identity/requests/addresses";
import { setSeeAsCookie } from "@/identity/requests/cookies";
import { requestPortal, sameOrigin } from "@/identity/requests/request";
import { SEE_AS_LASTS, seeAsCookie, takeTicket } from "@/identity/requests/see-as";

const to = (location: string): Response => new Response(null, { status: 303, headers: { location, "cache-control": "no-store" } });

/** A ticket that is used or too old leads back to where another is written. */
export async function beginSeeAs(slug: string, ticket: string): Promise<Response> {
  const r = await requestPortal(slug);
  if (!r) return new Response("Not found", { status: 404 });
  const now = Date.now();
  const seeAs = takeTicket(r.file.id, ticket.slice(0, 100), now);
  if (!seeAs) return to(`${officeAddress()}/portals/${slug}/check`);
  await setSeeAsCookie(r.file.id, r.base, seeAsCookie(r.file.id, seeAs, now), SEE_AS_LASTS / 1000);
  return to(r.base || "/");
}

/** Ends looking as somebody else, and leads back to the back office. 404 where another site asks for it. */
export async function endSeeAs(slug: string): Promise<Response> {
  const r = await requestPortal(slug);
  if (!r || !(await sameOrigin())) return new Response("Not found", { status: 404 });
  await setSeeAsCookie(r.file.id, r.base, "", 0);
  return to(`${officeAddress()}/portals/${slug}/check`);
}
