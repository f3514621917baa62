/** Messages that carry a link: written here, where links are made, and put together when they are sent. */

import { asHtml } from "@/core/messages/render";
import { fold } from "@/core/text/fold";
import { published } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { enqueue } from "@/data/jobs/queue";
import { LINK, type Message, messageById, noteTry, write, writtenSince } from "@/data/messages/outbox";
import { personFacts, personIdByEmail } from "@/data/people/people";
import { portalAddress } from "./addresses";
import { countTry, type From, limitsOf, waitFor } from "./limits";
import { freshLink, linkToken, lookAtLink, ownerOfDead, wasInvited } from "./links";
import { passwordState } from "./sign-in";

export interface Letter {
  readonly to: string;
  readonly subject: string;
  readonly text: string;
  readonly html: string;
}

/** What every message may say of its receiver and of the portal. */
export function saidOf(file: PortalFile, person: { name: string; email: string }) {
  return {
    portal: published(file).definition.portal.name,
    address: portalAddress(file.slug),
    name: person.name,
    "first-name": person.name.split(" ")[0] ?? person.name,
    email: person.email,
  };
}

/** With its link; undefined where that is dead by now, and sending it would lead to a closed door. */
export function letterOf(file: PortalFile, m: Message, now: number): Letter | undefined {
  let text = m.body;
  if (m.linkId && m.linkVersion !== null) {
    const token = linkToken(file, { id: m.linkId, version: m.linkVersion });
    if (lookAtLink(file, token, now).state !== "good") return undefined;
    text = text.replaceAll(LINK, `${portalAddress(file.slug)}/link/${token}`);
  }
  const { portal, brand } = published(file).definition;
  return { to: m.email, subject: m.subject, text, html: asHtml(text, { name: portal.name, primary: brand.colour }) };
}

type Send = (letter: Letter, key: string) => Promise<{ ok: true } | { ok: false; error: { when: "never" | "later"; message: string } }>;

/** One try. @throws Where it is to be tried again. Answers false where it is over. */
export async function sendMessage(file: PortalFile, id: string, last: boolean, send: Send, now: () => number): Promise<boolean> {
  const m = messageById(file, id);
  if (m?.state !== "waiting") return true; // sent already, or held back meanwhile
  const letter = letterOf(file, m, now());
  if (!letter) {
    noteTry(file, id, { error: "Its link is used, replaced or over.", over: true });
    return false;
  }
  const sent = await send(letter, id);
  if (sent.ok) {
    noteTry(file, id, { sentAt: now() });
    return true;
  }
  const over = sent.error.when === "never" || last;
  noteTry(file, id, { error: sent.error.message, over });
  if (over) return false;
  throw new Error(sent.error.message);
}

/** Milliseconds. */
const ANOTHER_AFTER = 5 * 60_000;

export const DOOR = "a link is asked for";

/**
 * Somebody asked for a link on the sign-in page, for whatever e-mail. The page has answered long since: whether that is anybody's is found
 * out here, so that neither what it says nor how long it takes tells.
 */
export function answerDoor(file: PortalFile, email: string, now: number): void {
  const personId = personIdByEmail(file, email);
  const person = personId ? personFacts(file, personId) : undefined;
  if (!person) return;
  // Who has not been asked in yet, or no longer, does not come in by asking.
  const invited = person.status === "invited" && (wasInvited(file, person.id) || passwordState(file, person.id) !== "none");
  if (person.status !== "active" && !invited) return;
  // Where the one before still works, strangers who go on asking neither fill a mailbox nor end the link that is in it.
  const before = writtenSince(file, person.id, "door", now - ANOTHER_AFTER);
  if (before && letterOf(file, before, now)) return;
  const link = freshLink(file, person.id, "sign-in", now);
  write(file, { occasion: "door", to: { personId: person.id, email: person.email }, said: saidOf(file, person), link, by: "system", now });
}

/** Asked for by whoever: so many an hour for one address and one e-mail, and no more, without a word. */
export function wantLink(file: PortalFile, email: string, from: From, now: number): void {
  const limits = limitsOf(`link ${fold(email).slice(0, 200)}`, from);
  if (waitFor(file.orm, limits, now) > 0) return;
  countTry(file.orm, limits, now);
  enqueue(file, DOOR, { email: email.slice(0, 300), at: now }, now);
}

/** Whoever holds a dead link may have a fresh one sent: to the address that is known, and nowhere else. */
export function wantFresh(file: PortalFile, token: string, from: From, now: number): void {
  const personId = ownerOfDead(file, token, now);
  const person = personId ? personFacts(file, personId) : undefined;
  if (person) wantLink(file, person.email, from, now);
}
