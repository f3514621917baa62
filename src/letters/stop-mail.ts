/** The way out of mail that nobody asked for: an address in each such message, good for the address it went to alone. */
import type { EventKind } from "@/core/events/kinds";
import { record } from "@/data/events/record";
import type { PortalFile } from "@/data/file/open";
import { endStop, noteStop, stopOf } from "@/data/messages/stops";
import { personIdByEmail } from "@/data/people/people";
import { mac, macMatches } from "@/identity/secrets/secrets";

export const stopToken = (portalId: string, email: string): string =>
  `${Buffer.from(email.trim()).toString("base64url")}.${mac(portalId, "stop", email.trim())}`;

/** The address that a token is of; undefined where nobody here wrote it. */
export function stoppedBy(file: PortalFile, token: string): string | undefined {
  const [coded = "", signature = ""] = token.slice(0, 1_000).split(".");
  const email = Buffer.from(coded, "base64url").toString();
  return email && macMatches(file.id, "stop", email, signature) ? email : undefined;
}

/** Whether its reader wants no mail that nobody asked for. */
export const isStopped = (file: PortalFile, email: string): boolean => stopOf(file, email)?.kind === "stop";

/** No more letters that may be stopped go to this address. `now` in milliseconds. */
export function stopMail(file: PortalFile, email: string, now: number): void {
  noteStop(file, email, { kind: "stop", reason: "", at: now });
  noted(file, email, "mail-stopped", now);
}

/** Letters go to this address again. `now` in milliseconds. */
export function startMail(file: PortalFile, email: string, now: number): void {
  endStop(file, email, "stop");
  noted(file, email, "mail-wanted", now);
}

function noted(file: PortalFile, email: string, kind: EventKind, now: number): void {
  const personId = personIdByEmail(file, email);
  if (personId) record(file, { actor: { kind: "person", id: personId }, via: "page", at: now, kind, table: "t_people", record: personId });
}
