/** The installation's key, made once, and the secrets of each portal derived from it (HKDF, RFC 5869). */
import { createCipheriv, createDecipheriv, createHash, createHmac, hkdfSync, randomBytes, timingSafeEqual } from "node:crypto";
import { eq } from "drizzle-orm";
import { settings } from "@/data/file/control-tables";
import { control } from "@/data/file/open";

function installationKey(): Buffer {
  const { orm } = control();
  const fresh = { key: "installation_key", value: randomBytes(32).toString("base64") };
  orm.insert(settings).values(fresh).onConflictDoNothing().run();
  return Buffer.from(orm.select().from(settings).where(eq(settings.key, "installation_key")).get()!.value, "base64");
}

const derived = new Map<string, Buffer>();

/** One secret for each portal and purpose: what one portal signs means nothing to another. */
function secret(portal: string, purpose: string): Buffer {
  const name = `${portal} ${purpose}`;
  let s = derived.get(name);
  if (!s) derived.set(name, (s = Buffer.from(hkdfSync("sha256", installationKey(), "elkhorn", name, 32))));
  return s;
}

/** HMAC-SHA-256 (RFC 2104) of a text under the portal's secret for a purpose, as base64url. */
export const mac = (portal: string, purpose: string, text: string): string =>
  createHmac("sha256", secret(portal, purpose)).update(text).digest("base64url");

/** Compared in the same time whatever stands there. */
export function macMatches(portal: string, purpose: string, text: string, given: string): boolean {
  const wanted = Buffer.from(mac(portal, purpose, text));
  const found = Buffer.from(given);
  return wanted.length === found.length && timingSafeEqual(wanted, found);
}

/** 256 random bits for a cookie, and what of it is stored. */
export const newToken = (): string => randomBytes(32).toString("base64url");
/** SHA-256 of a token as base64url: what is stored in its place. */
export const tokenHash = (token: string): string => createHash("sha256").update(token).digest("base64url");

/** Kept so that a file alone does not give it away: AES-256-GCM (NIST SP 800-38D) under a secret of the portal. */
export function seal(portal: string, purpose: string, text: string): string {
  const iv = randomBytes(12);
  const cipher = createCipheriv("aes-256-gcm", secret(portal, `seal ${purpose}`), iv);
  const body = Buffer.concat([cipher.update(text, "utf8"), cipher.final()]);
  return Buffer.concat([iv, cipher.getAuthTag(), body]).toString("base64url");
}

/** @throws Where it was sealed for something else, or changed since. */
export function unseal(portal: string, purpose: string, sealed: string): string {
  const all = Buffer.from(sealed, "base64url");
  const cipher = createDecipheriv("aes-256-gcm", secret(portal, `seal ${purpose}`), all.subarray(0, 12), { authTagLength: 16 });
  cipher.setAuthTag(all.subarray(12, 28));
  return Buffer.concat([cipher.update(all.subarray(28)), cipher.final()]).toString("utf8");
}
