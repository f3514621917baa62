/** The installation's key, made once, and the secrets of each portal derived from it (HKDF, RFC 5869). */
import { createHash, createHmac, hkdfSync, randomBytes, timingSafeEqual } from "node:crypto";
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

export const mac = (portal: string, purpose: string, text: string): string =>
  createHmac("sha256", secret(portal, purpose)).update(text).digest("base64url");

export function macMatches(portal: string, purpose: string, text: string, given: string): boolean {
  const wanted = Buffer.from(mac(portal, purpose, text));
  const found = Buffer.from(given);
  return wanted.length === found.length && timingSafeEqual(wanted, found);
}

/** 256 random bits for a cookie, and what of it is stored. */
export const newToken = (): string => randomBytes(32).toString("base64url");
export const tokenHash = (token: string): string => createHash("sha256").update(token).digest("base64url");
