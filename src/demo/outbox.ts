/** What the demo's outbox has behind it: how its people were invited, and how that went. */
import type { Owner } from "@/core/access/who/viewer";
import { actorOf, actorText } from "@/core/events/event";
import type { PortalFile } from "@/data/file/open";
import { noteTry, write } from "@/data/messages/outbox";
import { freshLink } from "@/identity/secrets/links";
import { saidOf } from "@/letters/said";

const DAY = 86_400_000;

/** Those who are in were invited a while ago; those who are not, the other day. One address was written wrongly at first. */
export function invitationOf(
  file: PortalFile,
  owner: Owner,
  personId: string,
  person: { name: string; email: string },
  waiting: boolean,
  now: number,
): void {
  const at = now - (waiting ? 2 : 60) * DAY;
  const letter = (email: string): string =>
    write(file, {
      occasion: "invited",
      to: { personId, email },
      said: { ...saidOf(file, person, now), by: owner.person?.name || "Rosalind Fern", note: "" },
      link: freshLink(file, personId, "invitation", at),
      held: true,
      by: actorText(actorOf(owner)),
      now: at,
    });
  if (waiting && person.name.startsWith("Edda")) {
    const wrong = letter(person.email.replace("@", "@mail."));
    noteTry(file, wrong, { error: "550 5.1.1 There is no such mailbox.", over: true });
  }
  noteTry(file, letter(person.email), { sentAt: at + 4_000 });
}
