/**
 * Codes of six digits: worked out of a secret of the portal, the person, and a number that rises with each (HOTP, RFC 4226), so that none is
 * kept anywhere. Five minutes, five tries, one live code a person and purpose.
 */
import { timingSafeEqual } from "node:crypto";
import { and, eq, gt, isNull, lt, sql } from "drizzle-orm";
import { HOTP, Secret } from "otpauth";
import type { PortalFile } from "@/data/file/open";
import { codes } from "@/data/file/portal-tables";
import { mac } from "./secrets";

export const CODE_LASTS = 5 * 60_000;
const MOST_TRIES = 5;

export type CodePurpose = "mail-code" | "sms-code" | "new-email" | "old-email";

const of = (personId: string, purpose: CodePurpose) => and(eq(codes.personId, personId), eq(codes.purpose, purpose));

/** Any earlier one for the same purpose is dead from now on. */
export function freshCode(file: PortalFile, personId: string, purpose: CodePurpose, now: number): number {
  const there = file.orm.select().from(codes).where(of(personId, purpose)).get();
  const row = { personId, purpose, version: (there?.version ?? 0) + 1, expiresAt: now + CODE_LASTS, tries: 0, usedAt: null };
  file.orm
    .insert(codes)
    .values(row)
    .onConflictDoUpdate({ target: [codes.personId, codes.purpose], set: row })
    .run();
  return row.version;
}

function codeOf(file: PortalFile, personId: string, purpose: CodePurpose, version: number): string {
  const secret = Secret.fromLatin1(mac(file.id, "code", `${purpose} ${personId}`));
  return HOTP.generate({ secret, counter: version, digits: 6, algorithm: "SHA1" });
}

const live = (personId: string, purpose: CodePurpose, now: number) =>
  and(of(personId, purpose), isNull(codes.usedAt), gt(codes.expiresAt, now), lt(codes.tries, MOST_TRIES));

/** As it is sent; undefined where it is over by then. */
export function codeToSend(file: PortalFile, personId: string, purpose: CodePurpose, version: number, now: number): string | undefined {
  const row = file.orm
    .select()
    .from(codes)
    .where(live(personId, purpose, now))
    .get();
  return row?.version === version ? codeOf(file, personId, purpose, version) : undefined;
}

/** One try: the version of the code where it was right, which is not used up by that. */
export function tryCode(file: PortalFile, personId: string, purpose: CodePurpose, given: string, now: number): number | null {
  const tried = file.orm
    .update(codes)
    .set({ tries: sql`${codes.tries} + 1` })
    .where(live(personId, purpose, now))
    .returning({ version: codes.version })
    .get();
  const wanted = Buffer.from(codeOf(file, personId, purpose, tried?.version ?? 0));
  const found = Buffer.from(given.replace(/\D/g, ""));
  const same = wanted.length === found.length && timingSafeEqual(wanted, found);
  return tried && same ? tried.version : null;
}

/** Uses a code up. Where two try at once, one of them succeeds. */
export const spendCode = (file: PortalFile, personId: string, purpose: CodePurpose, version: number, now: number): boolean =>
  file.orm
    .update(codes)
    .set({ usedAt: now })
    .where(and(of(personId, purpose), eq(codes.version, version), isNull(codes.usedAt)))
    .run().changes === 1;

/** Uses a code up; true once alone. */
export function redeemCode(file: PortalFile, personId: string, purpose: CodePurpose, given: string, now: number): boolean {
  const version = tryCode(file, personId, purpose, given, now);
  return version !== null && spendCode(file, personId, purpose, version, now);
}
