/** Invitations of very many, some at a time so that others are answered in between; who cannot be invited is named. */
import type { Owner } from "@/core/access/who/viewer";
import { newId } from "@/data/file/ids";
import type { PortalFile } from "@/data/file/open";
import { transact } from "@/data/file/transact";
import { personFacts } from "@/data/people/people";
import { hashPassword, temporaryPassword } from "@/identity/passwords/passwords";
import { endOtherSessions } from "@/identity/sessions/sessions";
import { inviteByLink, inviteByPassword, whyNotInvited } from "./inviting-one";

export interface ToInvite {
  readonly ids: readonly string[];
  readonly note: string;
  /** True: sent at once. False: made ready, and sent when somebody says so. */
  readonly send: boolean;
  /** The act that these invitations are part of; a new one where none is named. */
  readonly batch?: string | undefined;
}
export interface InvitedAll {
  readonly batch: string;
  readonly written: number;
  readonly left: { name: string; why: string }[];
}

/** So many are written at a stretch; other requests are answered in between. */
const AT_A_STRETCH = 20;
export const rest = (): Promise<void> => new Promise((next) => setImmediate(next));

export async function inviteAll(
  file: PortalFile,
  owner: Owner,
  by: string,
  { ids, note, send, batch = newId() }: ToInvite,
): Promise<InvitedAll> {
  const left: InvitedAll["left"] = [];
  let written = 0;
  const all = [...new Set(ids)];
  const one = (id: string): void => {
    const person = personFacts(file, id);
    const why = person && whyNotInvited(file, id);
    if (why) left.push({ name: person.name, why });
    if (!person || why) return;
    inviteByLink(file, owner, id, { batch, note, send, by });
    written++;
  };
  for (let i = 0; i < all.length; i += AT_A_STRETCH) {
    if (i > 0) await rest();
    transact(file, () => all.slice(i, i + AT_A_STRETCH).forEach(one));
  }
  return { batch, written, left };
}

/** What is asked before somebody is handed a way in, and said once they have it (`way-in.ts`). */
export interface Ways {
  readonly whyNot: (id: string) => string | null;
  readonly made: (id: string) => void;
}

/** Shown this once: only the hash is kept. */
export interface HandedOver {
  readonly name: string;
  readonly email: string;
  readonly password: string;
}

/** Whoever has a password of their own keeps it. */
export async function passwordsFor(
  file: PortalFile,
  owner: Owner,
  ids: readonly string[],
  ways: Ways,
): Promise<{ given: HandedOver[]; left: InvitedAll["left"] }> {
  const given: HandedOver[] = [];
  const left: InvitedAll["left"] = [];
  for (const id of new Set(ids)) {
    const person = personFacts(file, id);
    if (!person) continue;
    const why = person.password === "own" ? "has a password of their own" : (whyNotInvited(file, id, "password") ?? ways.whyNot(id));
    if (why) {
      left.push({ name: person.name, why });
      continue;
    }
    const password = temporaryPassword();
    const hash = await hashPassword(password);
    transact(file, () => {
      ways.made(id);
      inviteByPassword(file, owner, id, hash);
      endOtherSessions(file, id, "");
    });
    given.push({ name: person.name, email: person.email, password });
  }
  return { given, left };
}
