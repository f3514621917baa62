/** From the office into a rehearsal as somebody: the ticket becomes a session of that copy, and opens nothing anywhere else. */
import { rehearsalIn } from "@/data/file/clock";
import { personFacts } from "@/data/people/people";
import { officeAddress } from "@/identity/requests/addresses";
import { enterPortal, requestPortal } from "@/identity/requests/request";
import { REHEARSED, takeTicket } from "@/identity/requests/see-as";
import { startSession } from "@/identity/sessions/sessions";

const to = (location: string): Response => new Response(null, { status: 303, headers: { location, "cache-control": "no-store" } });

/** Signs in as somebody of a rehearsal by a ticket that works once. 404 where the portal is no rehearsal. */
export async function beSomebody(slug: string, ticket: string): Promise<Response> {
  const r = await requestPortal(slug);
  if (!r || !rehearsalIn(r.file)) return new Response("Not found", { status: 404 });
  const now = Date.now();
  const taken = takeTicket(r.file.id, ticket.slice(0, 100), now);
  // A ticket to look as somebody names the office session that looks: it makes nobody anybody.
  if (!taken || taken.session !== REHEARSED || !personFacts(r.file, taken.personId))
    return to(`${officeAddress()}/portals/${slug}/rehearsal`);
  await enterPortal(r.file, r.base, startSession(r.file, taken.personId, taken.membershipId, now), null);
  return to(r.base || "/");
}
