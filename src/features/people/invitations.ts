/** Invitations of very many at once: a link and a message each, in one transaction; who cannot be invited is named. */
import type { Owner } from "@/core/access/viewer";
import { actorOf, actorText } from "@/core/events/event";
import { record } from "@/data/events/record";
import { newId } from "@/data/file/ids";
import type { PortalFile } from "@/data/file/open";
import { transact } from "@/data/file/transact";
import { write } from "@/data/messages/outbox";
import { membershipsOf, personFacts } from "@/data/people/people";
import { saidOf } from "@/identity/letters";
import { freshLink } from "@/identity/links";

export interface ToInvite {
  readonly ids: readonly string[];
  readonly note: string;
  /** Else made ready, and sent when somebody says so. */
  readonly send: boolean;
}
export interface InvitedAll {
  readonly batch: string;
  readonly written: number;
  readonly left: { name: string; why: string }[];
}

export function inviteAll(file: PortalFile, owner: Owner, by: string, { ids, note, send }: ToInvite): InvitedAll {
  const batch = newId();
  const left: InvitedAll["left"] = [];
  const actor = actorOf(owner);
  let written = 0;
  transact(file, () => {
    for (const id of new Set(ids)) {
      const person = personFacts(file, id);
      if (!person) continue;
      const why = whyNot(person.status, person.email, membershipsOf(file, id).length);
      if (why) {
        left.push({ name: person.name, why });
        continue;
      }
      write(file, {
        occasion: "invited",
        to: { personId: id, email: person.email },
        said: { ...saidOf(file, person), by, note: note.trim() },
        link: freshLink(file, id, "invitation", owner.now),
        batch,
        held: !send,
        by: actorText(actor),
        now: owner.now,
      });
      record(file, { actor, via: "page", at: owner.now, act: "invited", table: "t_people", record: id });
      written++;
    }
  });
  return { batch, written, left };
}

function whyNot(status: string, email: string, memberships: number): string | null {
  if (status === "inactive" || status === "expired" || status === "awaiting approval") return `is ${status}`;
  if (!/^[^\s@]+@[^\s@]+$/.test(email)) return "has no e-mail address";
  return memberships === 0 ? "belongs to no company" : null;
}
