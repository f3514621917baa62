/**
 * A way in that somebody of the agency makes for somebody else. The first is how people begin; beside a way of their own it would let whoever
 * made it be them: only an owner may, it stands in the log, and the person is told.
 */
import { eq } from "drizzle-orm";
import { actorOf } from "@/core/events/event";
import { record } from "@/data/events/record";
import { rehearsalIn } from "@/data/file/clock";
import type { PortalFile } from "@/data/file/open";
import { outside } from "@/data/file/portal-tables";
import { personFacts } from "@/data/people/people";
import { passkeysOf } from "@/identity/doors/passkey";
import { secondState } from "@/identity/factors/second";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { staleSignIn } from "@/office/fresh";

/** Whether they can come in by something that is theirs: a password they chose, a passkey, a second factor, an account elsewhere, or their mail, as they did. */
export function hasOwnWay(file: PortalFile, personId: string): boolean {
  const person = personFacts(file, personId);
  if (!person) return false;
  return (
    person.status === "active" ||
    person.password === "own" ||
    passkeysOf(file, personId).length > 0 ||
    secondState(file, personId).since !== null ||
    file.orm.select().from(outside).where(eq(outside.personId, personId)).get() !== undefined
  );
}

type Asking = Pick<OfficePortal, "file" | "session" | "staff" | "owner" | "now">;

/** Why whoever asks may make none for this person, as words that follow a name; null where they may. */
export function whyNoWayFor(p: Asking, personId: string): string | null {
  if (rehearsalIn(p.file) || p.staff.role === "owner" || !hasOwnWay(p.file, personId)) return null;
  return "signs in already: ask an owner of the agency, or let them ask for a link on the sign-in page";
}

/** The same, and that the sign-in of whoever asks is fresh; a whole sentence. */
export function whyNoWay(p: Asking, personId: string): string | null {
  const stale = staleSignIn(p);
  if (stale) return stale;
  const why = whyNoWayFor(p, personId);
  return why && `${personFacts(p.file, personId)?.name ?? "This person"} ${why}.`;
}

/** To be called in the same breath as the way is made, and before it: afterwards everybody has one. */
export function noteWayMade(p: Asking, personId: string, what: string): void {
  if (rehearsalIn(p.file) || !hasOwnWay(p.file, personId)) return;
  record(p.file, {
    actor: actorOf(p.owner),
    via: "page",
    at: p.now,
    kind: "way-in-made",
    table: "t_people",
    record: personId,
    detail: what,
  });
}
