/**
 * Sign-in links: `id.version.mac`. Looking at one (a mail scanner's GET) uses nothing up; one atomic UPDATE redeems it; a
 * newer one for the same person and purpose supersedes it, because its version is higher.
 */
import { and, eq, gt, isNull } from "drizzle-orm";
import { newId } from "@/data/file/ids";
import type { PortalFile } from "@/data/file/open";
import { links } from "@/data/file/portal-tables";
import { mac, macMatches } from "./secrets";

export type LinkPurpose = "invitation" | "sign-in";
export const LASTS: Record<LinkPurpose, number> = { invitation: 14 * 86_400_000, "sign-in": 30 * 60_000 };

/** A link as it is kept: what opens the door is worked out from it when it is needed. */
export interface MadeLink {
  readonly id: string;
  readonly version: number;
}

export function linkToken(file: PortalFile, { id, version }: MadeLink): string {
  const text = `${id}.${version}`;
  return `${text}.${mac(file.id, "link", text)}`;
}

export const makeLink = (file: PortalFile, personId: string, purpose: LinkPurpose, now: number): string =>
  linkToken(file, freshLink(file, personId, purpose, now));

/** Any earlier one of the same purpose is dead from now on. */
export function freshLink(file: PortalFile, personId: string, purpose: LinkPurpose, now: number): MadeLink {
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
  };
  file.orm.insert(links).values(row).onConflictDoUpdate({ target: links.id, set: row }).run();
  return { id: row.id, version: row.version };
}

export type LinkState =
  | { state: "good"; personId: string; purpose: LinkPurpose }
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

export function lookAtLink(file: PortalFile, token: string, now: number): LinkState {
  const p = parse(file, token);
  const row = p && file.orm.select().from(links).where(eq(links.id, p.id)).get();
  if (!p || !row) return { state: "unknown" };
  if (row.version !== p.version) return { state: "replaced" };
  if (row.usedAt !== null) return { state: "used" };
  if (row.expiresAt === WITHDRAWN) return { state: "withdrawn" };
  return row.expiresAt <= now ? { state: "over" } : { state: "good", personId: row.personId, purpose: row.purpose as LinkPurpose };
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
): { state: "open" | "used" | "over" | "withdrawn"; at: number } | undefined {
  const row = file.orm
    .select()
    .from(links)
    .where(and(eq(links.personId, personId), eq(links.purpose, "invitation")))
    .get();
  if (!row) return undefined;
  if (row.usedAt !== null) return { state: "used", at: row.usedAt };
  if (row.expiresAt === WITHDRAWN) return { state: "withdrawn", at: 0 };
  return { state: row.expiresAt <= now ? "over" : "open", at: row.expiresAt };
}

/** Whose a link was that no longer opens the door, where a fresh one may be sent to them: to nobody else, whoever holds the old one. */
export function ownerOfDead(file: PortalFile, token: string, now: number): string | undefined {
  const { state } = lookAtLink(file, token, now);
  if (state === "good" || state === "unknown" || state === "withdrawn") return undefined;
  const p = parse(file, token);
  return p && file.orm.select({ personId: links.personId }).from(links).where(eq(links.id, p.id)).get()?.personId;
}

export function redeemLink(file: PortalFile, token: string, now: number): LinkState {
  const seen = lookAtLink(file, token, now);
  const p = parse(file, token);
  if (seen.state !== "good" || !p) return seen;
  const still = and(eq(links.id, p.id), eq(links.version, p.version), isNull(links.usedAt), gt(links.expiresAt, now));
  return file.orm.update(links).set({ usedAt: now }).where(still).run().changes === 1 ? seen : { state: "used" };
}
