/** Messages that carry a link: written here, where links are made, and put together when they are sent. */

import { system } from "@/core/events/event";
import { isOccasion, type Occasion, occasion } from "@/core/messages/occasions";
import { asHtml } from "@/core/messages/render";
import { holdsTelephone } from "@/core/schema/fields/natures";
import { kindOf, type Values } from "@/core/schema/types";
import { isEmail } from "@/core/text/email";
import { fold } from "@/core/text/fold";
import { e164 } from "@/core/text/telephone";
import { published } from "@/data/definition/published";
import { record } from "@/data/events/record";
import type { PortalFile } from "@/data/file/open";
import { enqueue } from "@/data/jobs/queue";
import { CODE, LINK, type Message, messageById, noteTry, saysValues, valueWords, write, writtenSince } from "@/data/messages/outbox";
import { endStop, noteStop, stopOf, stopWords } from "@/data/messages/stops";
import { actingOf } from "@/data/people/acting";
import { personFacts } from "@/data/people/people";
import { Desk } from "@/data/records/desk";
import { schemaOf } from "@/data/tables/read";
import { doorSettings } from "@/identity/doors/settings";
import { whoIsMeant } from "@/identity/doors/who";
import { passwordState } from "@/identity/entering/sign-in";
import { countTry, type From, limitsOf, waitFor } from "@/identity/limits/limits";
import { portalAddress } from "@/identity/requests/addresses";
import { type CodePurpose, codeToSend, freshCode } from "@/identity/secrets/codes";
import { joinIsOpen, joinToken } from "@/identity/secrets/join-links";
import { freshLink, linkToken, lookAtLink, ownerOfDead, wasInvited } from "@/identity/secrets/links";
import { viewerOf } from "@/identity/viewers/viewer";
import { stopToken } from "./stop-mail";

export interface Letter {
  readonly channel: "mail" | "sms";
  readonly to: string;
  readonly subject: string;
  readonly text: string;
  readonly html: string;
  readonly replyTo?: string;
  readonly headers?: Readonly<Record<string, string>>;
}

/** What every message may say of its receiver and of the portal. */
export function saidOf(file: PortalFile, person: { name: string; email: string; id?: string }, now: number, tried = false) {
  const values = person.id && (tried || saysValues(file)) ? receiversValues(file, person.id, now) : undefined;
  return {
    ...(values ? { values } : {}),
    portal: published(file).definition.portal.name,
    address: portalAddress(file.slug),
    name: person.name,
    "first-name": person.name.split(" ")[0] ?? person.name,
    email: person.email,
  };
}

/** Only what the receiver may read inside, as they are or will be once they are in: a message opens nothing that the portal keeps shut. */
function receiversValues(file: PortalFile, personId: string, now: number): Record<string, string> {
  const acting = actingOf(file, personId);
  if (!acting) return {};
  const { policy, definition } = published(file);
  const asIn = { ...acting, person: { ...acting.person, status: "active" as const } };
  const viewer = viewerOf(file, asIn, null, now);
  const desk = new Desk(file, policy, viewer);
  const { people, companies } = policy.schema;
  const mine = desk.may(people, "see") ? desk.read(people, personId) : undefined;
  const company = viewer.company && desk.may(companies, "see") ? desk.read(companies, viewer.company.id) : undefined;
  const { timeZone } = definition.portal;
  return Object.fromEntries(
    valueWords(file).flatMap(({ word, field }) => {
      const v = (word.startsWith("person.") ? mine : company)?.fields[field.id];
      const choices = field.options.choices;
      const one = (x: unknown): string => choices?.find((c) => c.id === x)?.name ?? "";
      const said =
        v === undefined || v === null
          ? ""
          : choices
            ? (Array.isArray(v) ? v : [v]).map(one).join(", ")
            : (kindOf(field).texts(v as never, field, timeZone)[0] ?? "");
      return said ? [[word, said]] : [];
    }),
  );
}

const isUnasked = (m: Message): boolean => isOccasion(m.occasion) && (occasion(m.occasion) as Occasion).unasked === true;

/** With its link; undefined where that is dead by now, and sending it would lead to a closed door. */
export function letterOf(file: PortalFile, m: Message, now: number): Letter | undefined {
  let text = m.body;
  if (text.includes(CODE)) {
    const code = m.personId && codeToSend(file, m.personId, m.linkId as CodePurpose, m.linkVersion ?? 0, now);
    if (!code) return undefined;
    text = text.replaceAll(CODE, `${code.slice(0, 3)} ${code.slice(3)}`);
  } else if (m.occasion === "join") {
    if (!m.linkId || !joinIsOpen(file, m.linkId, now)) return undefined;
    text = text.replaceAll(LINK, `${portalAddress(file.slug)}/-/join/${joinToken(file, m.linkId)}`);
  } else if (m.linkId && m.linkVersion !== null) {
    const token = linkToken(file, { id: m.linkId, version: m.linkVersion });
    if (lookAtLink(file, token, now).state !== "good") return undefined;
    text = text.replaceAll(LINK, `${portalAddress(file.slug)}/link/${token}`);
  }
  const { portal, brand } = published(file).definition;
  const stop = isUnasked(m) ? `${portalAddress(file.slug)}/-/stop/${stopToken(file.id, m.email)}` : null;
  if (stop) text = `${text}\n\n--\nTo get no such mail from ${portal.name} any more:\n${stop}`;
  return {
    channel: m.channel === "sms" ? "sms" : "mail",
    to: m.email,
    subject: m.subject,
    text,
    html: asHtml(text, { name: portal.name, primary: brand.colour }),
    ...(brand.contact && isEmail(brand.contact) ? { replyTo: brand.contact } : {}),
    // One click in the mail program itself (RFC 8058 section 3.1).
    ...(stop ? { headers: { "List-Unsubscribe": `<${stop}/one-click>`, "List-Unsubscribe-Post": "List-Unsubscribe=One-Click" } } : {}),
  };
}

const CHANGES = {
  password: "you chose a new password.",
  "passkey made": "you made a passkey.",
  "passkey removed": "you removed a passkey.",
  "second on": "you turned a second factor on.",
  "second off": "you turned the second factor off.",
  "way made": "the agency has made another way to sign in for you.",
  "second taken": "the agency has removed your second factor.",
} as const;

/** Whoever's way in has changed is told, where they read their mail: it may have been somebody else. */
export function tellOfChange(file: PortalFile, personId: string, what: keyof typeof CHANGES, now: number): void {
  const person = personFacts(file, personId);
  if (!person?.email) return;
  const said = { ...saidOf(file, person, now), note: CHANGES[what] };
  write(file, { occasion: "doors-changed", to: { personId, email: person.email }, said, link: null, by: "system", now });
}

const GUESSED = {
  guessed: "Somebody who knows your password has entered ten wrong codes of your second factor.",
  stopped:
    "Somebody who knows your password has entered twenty wrong codes of your second factor. No more codes are taken until you open a link by e-mail.",
} as const;

/** Wrong codes in a row: it may be somebody else, who has the password. Told to the person, in the log for the agency. */
export function tellOfGuesses(file: PortalFile, personId: string, what: keyof typeof GUESSED, now: number): void {
  const person = personFacts(file, personId);
  if (!person) return;
  record(file, {
    actor: system("sign-in"),
    via: "page",
    at: now,
    kind: what === "guessed" ? "second-factor-guessed" : "second-factor-stopped",
    table: published(file).policy.schema.people.id,
    record: personId,
  });
  if (!person.email) return;
  const note = `${GUESSED[what]} If it was not you, choose a new password now: on the sign-in page, ask for a link by e-mail.`;
  write(file, {
    occasion: "doors-changed",
    to: { personId, email: person.email },
    said: { ...saidOf(file, person, now), note },
    link: null,
    by: "system",
    now,
  });
}

/** As often as this somebody is told that they were written to: nobody fills another's mail box. */
const TOLD_AGAIN_MS = 5 * 60_000;

/** Somebody wrote in a conversation of theirs. `about` names the record as they see it, with its address. */
export function tellOfMessage(file: PortalFile, personId: string, by: string, about: string, now: number): void {
  const person = personFacts(file, personId);
  if (!person?.email || writtenSince(file, personId, "answered", now - TOLD_AGAIN_MS)) return;
  write(file, {
    occasion: "answered",
    to: { personId, email: person.email },
    said: { ...saidOf(file, person, now), by, note: about },
    link: null,
    by: "system",
    now,
  });
}

type Send = (
  letter: Letter,
  key: string,
) => Promise<{ ok: true } | { ok: false; error: { when: "never" | "later"; address?: true; message: string } }>;

/** One try. @throws Where it is to be tried again. Answers false where it is over. */
export async function sendMessage(file: PortalFile, id: string, last: boolean, send: Send, now: () => number): Promise<boolean> {
  const m = messageById(file, id);
  if (m?.state !== "waiting") return true; // sent already, or held back meanwhile
  // Kept back meanwhile, or asked for again by whoever did not know.
  const stop = isUnasked(m) ? stopOf(file, m.email) : undefined;
  if (stop) {
    noteTry(file, id, { error: stopWords(stop), over: true });
    return false;
  }
  const letter = letterOf(file, m, now());
  if (!letter) {
    noteTry(file, id, { error: `Its ${m.body.includes(CODE) ? "code" : "link"} is used, replaced or over.`, over: true });
    return false;
  }
  const sent = await send(letter, id);
  if (sent.ok) {
    noteTry(file, id, { sentAt: now() });
    endStop(file, letter.to, "bounce");
    return true;
  }
  if (sent.error.address && letter.channel === "mail") noteStop(file, letter.to, { kind: "bounce", reason: sent.error.message, at: now() });
  const over = sent.error.when === "never" || last;
  noteTry(file, id, { error: sent.error.message, over });
  if (over) return false;
  throw new Error(sent.error.message);
}

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
  // Where the one before still works, strangers who go on asking neither fill a mailbox nor end the link that is in it.
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

/** The number that People has of them, as the owner says where; null where there is none. */
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
