/** Somebody asks on the sign-in page for a link or a code: written here, where links are made. */
import { holdsTelephone } from "@/core/schema/fields/natures";
import type { Values } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { e164 } from "@/core/text/telephone";
import type { PortalFile } from "@/data/file/open";
import { enqueue } from "@/data/jobs/queue";
import { write, writtenSince } from "@/data/messages/outbox";
import { personFacts } from "@/data/people/people";
import { schemaOf } from "@/data/tables/read";
import { doorSettings } from "@/identity/doors/settings";
import { whoIsMeant } from "@/identity/doors/who";
import { passwordState } from "@/identity/entering/sign-in";
import { countTry, type From, limitsOf, waitFor } from "@/identity/limits/limits";
import { freshCode } from "@/identity/secrets/codes";
import { freshLink, lookAtLink, ownerOfDead, wasInvited } from "@/identity/secrets/links";
import { saidOf } from "./said";
import { letterOf } from "./send";

/** Milliseconds after which another is sent, though the one before still works. */
const ANOTHER_AFTER: Record<AskedFor, number> = { link: 5 * 60_000, "mail-code": 60_000, "sms-code": 60_000 };

export const DOOR = "a link is asked for";
export type AskedFor = "link" | "mail-code" | "sms-code";

/**
 * Somebody asked for a link or a code on the sign-in page, for whatever e-mail. The page has answered long since: whether that is anybody's
 * is found out here, so that neither what it says nor how long it takes tells.
 */
export function answerDoor(
  file: PortalFile,
  email: string,
  now: number,
  what: AskedFor = "link",
  by: { readonly asked?: string | null; readonly anew?: boolean } = {},
): void {
  const personId = whoIsMeant(file, email);
  const person = personId ? personFacts(file, personId) : undefined;
  if (!person) return;
  // Who has not been asked in yet, or no longer, does not come in by asking.
  const invited = person.status === "invited" && (wasInvited(file, person.id) || passwordState(file, person.id) !== "none");
  if (person.status !== "active" && person.status !== "awaiting approval" && !invited) return;
  // While the last link still works, no new one is sent: strangers who go on asking neither fill a mailbox nor end that link.
  const about = what === "link" ? "door" : what;
  const before = writtenSince(file, person.id, about, now - ANOTHER_AFTER[what]);
  if (before && !by.anew && letterOf(file, before, now)) return;
  const to = what === "sms-code" ? telephoneOf(file, person) : person.email;
  if (!to) return;
  const said = saidOf(file, person, now);
  const letter = { occasion: about, to: { personId: person.id, email: to }, said, by: "system", now } as const;
  if (what === "link") write(file, { ...letter, link: freshLink(file, person.id, "sign-in", now, by.asked ?? null) });
  else write(file, { ...letter, link: null, code: { id: what, version: freshCode(file, person.id, what, now) } });
}

/** Their telephone number, from the field that the owner chose; null where there is none. */
function telephoneOf(file: PortalFile, person: { readonly values: Values }): string | null {
  const chosen = doorSettings(file).telephone;
  const { people } = schemaOf(file);
  const field = people.fields.find((f) => (chosen ? f.id === chosen : holdsTelephone(f)));
  const value = field && person.values[field.id];
  return field !== undefined && holdsTelephone(field) && typeof value === "string" ? e164(value, field.options.country) : null;
}

/** Asked for by whoever: so many an hour for one address and one e-mail, and no more, without a word. */
export function wantDoor(
  file: PortalFile,
  email: string,
  what: AskedFor,
  from: From,
  now: number,
  by: { readonly asked?: string | null; readonly anew?: boolean } = {},
): void {
  const { open } = doorSettings(file);
  if (!open.includes(what) && !(what === "link" && open.includes("password"))) return;
  const limits = limitsOf(`${what} ${fold(email).slice(0, 200)}`, from);
  if (waitFor(file.orm, limits, now) > 0) return;
  countTry(file.orm, limits, now);
  enqueue(file, DOOR, { email: email.slice(0, 300), at: now, what, ...by }, now);
}
/** `asked` is the hash of what the browser holds that asks. */
export const wantLink = (file: PortalFile, email: string, from: From, now: number, asked: string | null = null): void =>
  wantDoor(file, email, "link", from, now, { asked });

/**
 * Whoever holds a dead link may have a fresh one sent: to the address that is known, and nowhere else. So may who holds one that another
 * browser asked for, to open it here.
 */
export function wantFresh(file: PortalFile, token: string, from: From, now: number, asked: string | null = null): void {
  const seen = lookAtLink(file, token, now);
  const elsewhere = seen.state === "good" && seen.asked !== null && seen.asked !== asked;
  const personId = elsewhere ? seen.personId : ownerOfDead(file, token, now);
  const person = personId ? personFacts(file, personId) : undefined;
  if (person) wantDoor(file, person.email, "link", from, now, { asked, anew: elsewhere });
}
