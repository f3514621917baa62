/**
 * Sign-in links: `id.version.mac`. Looking at one (a mail scanner's GET) uses nothing up; one atomic UPDATE redeems it; a
 * newer one for the same person and purpose supersedes it, because its version is higher.
 */
import { and, eq, gt, isNull } from "drizzle-orm";
import { newId } from "@/data/file/ids";
import type { PortalFile } from "@/data/file/open";
import { links, sessions } from "@/data/file/portal-tables";
import { transact } from "@/data/file/transact";
import { mac, macMatches } from "./secrets";

export type LinkPurpose = "invitation" | "sign-in" | "standing";
export const LASTS: Record<LinkPurpose, number> = { invitation: 14 * 86_400_000, "sign-in": 30 * 60_000, standing: 365 * 86_400_000 };

/** A link as it is kept: what opens the door is worked out from it when it is needed. */
export interface MadeLink {
  readonly id: string;
  readonly version: number;
}

/** A link as it stands in its address: its id, its version, and their MAC by the portal's key. */
export function linkToken(file: PortalFile, { id, version }: MadeLink): string {
  const text = `${id}.${version}`;
  return `${text}.${mac(file.id, "link", text)}`;
}

/** The token of a new link; the one before for that purpose ends. */
export const makeLink = (file: PortalFile, personId: string, purpose: LinkPurpose, now: number): string =>
  linkToken(file, freshLink(file, personId, purpose, now));

/** Any earlier one of the same purpose is dead from now on. */
export function freshLink(file: PortalFile, personId: string, purpose: LinkPurpose, now: number, asked: string | null = null): MadeLink {
  const there = file.orm
    .select()
    .from(links)
    .where(and(eq(links.personId, personId), eq(links.purpose, purpose)))
    .get();
  const row = {
    id: there?.id ?? newId(),
    personId,
    purpose,
    version: (there?.version ?? 0) + 1,
    expiresAt: now + LASTS[purpose],
    usedAt: null,
    openedAt: null,
    asked,
  };
  file.orm.insert(links).values(row).onConflictDoUpdate({ target: links.id, set: row }).run();
  return { id: row.id, version: row.version };
}

export type LinkState =
  | {
      state: "good";
      personId: string;
      purpose: LinkPurpose;
      /** By which browser it was asked for: only there it opens as it is. */
      asked: string | null;
    }
  | { state: "used" | "replaced" | "withdrawn" | "over" | "unknown" };

interface Parsed {
  id: string;
  version: number;
}

function parse(file: PortalFile, token: string): Parsed | undefined {
  const [id, version, signature] = token.split(".");
  if (!id || !version || !signature || !/^\d{1,9}$/.test(version)) return undefined;
  return macMatches(file.id, "link", `${id}.${version}`, signature) ? { id, version: Number(version) } : undefined;
}

/** What a token is, without using it up. */
export function lookAtLink(file: PortalFile, token: string, now: number): LinkState {
  const p = parse(file, token);
  const row = p && file.orm.select().from(links).where(eq(links.id, p.id)).get();
  if (!p || !row) return { state: "unknown" };
  if (row.version !== p.version) return { state: "replaced" };
  if (row.usedAt !== null) return { state: "used" };
  if (row.expiresAt === WITHDRAWN) return { state: "withdrawn" };
  return row.expiresAt <= now
    ? { state: "over" }
    : { state: "good", personId: row.personId, purpose: row.purpose as LinkPurpose, asked: row.asked };
}

/** Looking uses nothing up; that somebody, or a mail scanner, has looked is told to the agency. */
export function noteOpened(file: PortalFile, token: string, now: number): void {
  const p = parse(file, token);
  if (p)
    file.orm
      .update(links)
      .set({ openedAt: now })
      .where(and(eq(links.id, p.id), eq(links.version, p.version), isNull(links.openedAt)))
      .run();
}

const WITHDRAWN = 0;
const invitationOf = (personId: string) => and(eq(links.personId, personId), eq(links.purpose, "invitation"), isNull(links.usedAt));

/** The invitation that is open works no more, and says so; false where there is none. */
export const withdraw = (file: PortalFile, personId: string): boolean =>
  file.orm
    .update(links)
    .set({ expiresAt: WITHDRAWN })
    .where(and(invitationOf(personId), gt(links.expiresAt, WITHDRAWN)))
    .run().changes === 1;

/** Its undo: the same link works again, for as long as a fresh one would. */
export const giveBack = (file: PortalFile, personId: string, now: number): boolean =>
  file.orm
    .update(links)
    .set({ expiresAt: now + LASTS.invitation })
    .where(and(invitationOf(personId), eq(links.expiresAt, WITHDRAWN)))
    .run().changes === 1;

/** Whether somebody has been asked in, and that was not taken back. */
export function wasInvited(file: PortalFile, personId: string): boolean {
  const row = file.orm
    .select()
    .from(links)
    .where(and(eq(links.personId, personId), eq(links.purpose, "invitation")))
    .get();
  return row !== undefined && row.expiresAt !== WITHDRAWN;
}

/** How the last invitation of somebody stands, and the time that goes with it. */
export function invitationState(
  file: PortalFile,
  personId: string,
  now: number,
): { state: "open" | "used" | "over" | "withdrawn"; at: number; openedAt: number | null } | undefined {
  const row = file.orm
    .select()
    .from(links)
    .where(and(eq(links.personId, personId), eq(links.purpose, "invitation")))
    .get();
  if (!row) return undefined;
  const { openedAt } = row;
  if (row.usedAt !== null) return { state: "used", at: row.usedAt, openedAt };
  if (row.expiresAt === WITHDRAWN) return { state: "withdrawn", at: 0, openedAt };
  return { state: row.expiresAt <= now ? "over" : "open", at: row.expiresAt, openedAt };
}

/** Whose a link was that no longer opens the door, where a fresh one may be sent to them: to nobody else, whoever holds the old one. */
export function ownerOfDead(file: PortalFile, token: string, now: number): string | undefined {
  const { state } = lookAtLink(file, token, now);
  if (state === "good" || state === "unknown" || state === "withdrawn") return undefined;
  const p = parse(file, token);
  return p && file.orm.select({ personId: links.personId }).from(links).where(eq(links.id, p.id)).get()?.personId;
}

/** A standing link is not used up. */
export function redeemStanding(file: PortalFile, token: string, now: number): LinkState {
  const seen = lookAtLink(file, token, now);
  return seen.state === "good" && seen.purpose !== "standing" ? { state: "unknown" } : seen;
}

const standingOf = (personId: string) => and(eq(links.personId, personId), eq(links.purpose, "standing"));

/** Until when somebody's standing link works; null where they have none, or it was taken back. Milliseconds since the epoch. */
export function standingUntil(file: PortalFile, personId: string, now: number): number | null {
  const row = file.orm.select().from(links).where(standingOf(personId)).get();
  return row && row.expiresAt > now ? row.expiresAt : null;
}

/** Whoever came in by it is out with it. */
export function takeStandingBack(file: PortalFile, personId: string): boolean {
  return transact(file, () => {
    const done = file.orm.update(links).set({ expiresAt: WITHDRAWN }).where(standingOf(personId)).run().changes === 1;
    if (done)
      file.orm
        .delete(sessions)
        .where(and(eq(sessions.personId, personId), eq(sessions.via, "standing")))
        .run();
    return done;
  });
}

/** What the page shows that asked for a link: another device is asked for it, so that a link alone opens nothing elsewhere. Six digits. */
export function elsewhereCode(file: PortalFile, asked: string): string {
  const number = Buffer.from(mac(file.id, "link elsewhere", asked), "base64url").readUIntBE(0, 6) % 1_000_000;
  return String(number).padStart(6, "0");
}

/** Uses a link up; "good" once alone. */
export function redeemLink(file: PortalFile, token: string, now: number): LinkState {
  const seen = lookAtLink(file, token, now);
  const p = parse(file, token);
  if (seen.state !== "good" || !p) return seen;
  if (seen.purpose === "standing") return { state: "unknown" };
  const still = and(eq(links.id, p.id), eq(links.version, p.version), isNull(links.usedAt), gt(links.expiresAt, now));
  return file.orm.update(links).set({ usedAt: now }).where(still).run().changes === 1 ? seen : { state: "used" };
}
