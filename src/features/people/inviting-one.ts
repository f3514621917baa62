/** Somebody invited: by a link in a message, or by a temporary password that is handed over. Within the caller's transaction. */
import type { Owner } from "@/core/access/who/viewer";
import { actorOf, actorText } from "@/core/events/event";
import { isEmail } from "@/core/text/email";
import { record } from "@/data/events/record";
import type { PortalFile } from "@/data/file/open";
import { write } from "@/data/messages/outbox";
import { accountOf } from "@/data/people/account";
import { membershipsOf, personFacts } from "@/data/people/people";
import { storeHash } from "@/identity/entering/sign-in";
import { freshLink } from "@/identity/secrets/links";
import { saidOf } from "@/letters/said";

export interface How {
  readonly batch: string;
  readonly note: string;
  /** True: sent at once. False: made ready, and sent when somebody says so. */
  readonly send: boolean;
  /** Who invites, as the message says it. */
  readonly by: string;
}

/** Why somebody cannot be invited, or null. */
export function whyNotInvited(file: PortalFile, id: string, by: "link" | "password" = "link"): string | null {
  const person = personFacts(file, id);
  if (!person) return "is gone";
  const { status, email } = person;
  if (status === "inactive" || status === "expired" || status === "awaiting approval") return `is ${status}`;
  const signsIn = by === "password" && accountOf(file, id).name !== null;
  if (!signsIn && !isEmail(email)) return "has no e-mail address";
  return membershipsOf(file, id).length === 0 ? "belongs to no company" : null;
}

export function inviteByLink(file: PortalFile, owner: Owner, id: string, how: How): void {
  const person = personFacts(file, id)!;
  const actor = actorOf(owner);
  write(file, {
    occasion: "invited",
    to: { personId: id, email: person.email },
    said: { ...saidOf(file, person, owner.now), by: how.by, note: how.note.trim() },
    link: freshLink(file, id, "invitation", owner.now),
    batch: how.batch,
    held: !how.send,
    by: actorText(actor),
    now: owner.now,
  });
  record(file, { actor, via: "page", at: owner.now, kind: "invited", table: "t_people", record: id });
}

/** `hash` is of a password that somebody hands over; it is replaced at the first sign-in. */
export function inviteByPassword(file: PortalFile, owner: Owner, id: string, hash: string): void {
  storeHash(file, id, hash, true, owner.now);
  record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind: "temporary-password-given", table: "t_people", record: id });
}
