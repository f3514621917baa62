/** A message of the outbox, put together with its link or code when it is sent, and sent. */
import { isOccasion, type Occasion, occasion } from "@/core/messages/occasions";
import { asHtml } from "@/core/messages/render";
import { isEmail } from "@/core/text/email";
import { published } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { CODE, LINK, type Message, messageById, noteTry } from "@/data/messages/outbox";
import { endStop, noteStop, stopOf, stopWords } from "@/data/messages/stops";
import { portalAddress } from "@/identity/requests/addresses";
import { type CodePurpose, codeToSend } from "@/identity/secrets/codes";
import { joinIsOpen, joinToken } from "@/identity/secrets/join-links";
import { linkToken, lookAtLink } from "@/identity/secrets/links";
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
    // Unsubscribing by one click in the mail program itself (RFC 8058 section 3.1).
    ...(stop ? { headers: { "List-Unsubscribe": `<${stop}/one-click>`, "List-Unsubscribe-Post": "List-Unsubscribe=One-Click" } } : {}),
  };
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
