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

export function makeLink(file: PortalFile, personId: string, purpose: LinkPurpose, now: number): string {
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
  const text = `${row.id}.${row.version}`;
  return `${text}.${mac(file.id, "link", text)}`;
}

export type LinkState = { state: "good"; personId: string; purpose: LinkPurpose } | { state: "used" | "replaced" | "over" | "unknown" };

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
  return row.expiresAt <= now ? { state: "over" } : { state: "good", personId: row.personId, purpose: row.purpose as LinkPurpose };
}

export function redeemLink(file: PortalFile, token: string, now: number): LinkState {
  const seen = lookAtLink(file, token, now);
  const p = parse(file, token);
  if (seen.state !== "good" || !p) return seen;
  const still = and(eq(links.id, p.id), eq(links.version, p.version), isNull(links.usedAt), gt(links.expiresAt, now));
  return file.orm.update(links).set({ usedAt: now }).where(still).run().changes === 1 ? seen : { state: "used" };
}
