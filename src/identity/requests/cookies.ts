/** What browsers hold: every cookie that Elkhorn sets, by what it is for. Scripts read none of them. */
import { cookies, headers } from "next/headers";
import { config } from "@/config";
import { safePath } from "@/core/address/safe-path";
import type { PortalId } from "@/core/ids";
import type { PortalFile } from "@/data/file/open";
import type { From } from "../limits/limits";
import { accountOf } from "../passwords/passwords";
import { DEVICE_LASTS, deviceOf, deviceToken } from "../secrets/device";
import { newToken, tokenHash } from "../secrets/secrets";
import { FRAMED_LASTS } from "../sessions/framed";
import { ABSOLUTE } from "../sessions/sessions";

/**
 * RFC 6265bis section 4.1.3: a browser takes `__Host-` only over https, for this very host and all of its paths; under a path of the main
 * host `__Secure-` is what can be had. Over http (localhost) neither can.
 */
const named = (name: string, base: string): string => (config().secure ? `${base ? "__Secure-" : "__Host-"}${name}` : name);
const kept = (base: string, seconds: number) =>
  ({ httpOnly: true, sameSite: "lax", secure: config().secure, path: base || "/", maxAge: seconds }) as const;

/** Name of a portal's cookie for a session. */
export const sessionCookie = (id: PortalId, base: string): string => named(`elkhorn_${id}`, base);
/**
 * Inside another site's frame: kept apart for each site that shows it (CHIPS, draft-cutler-httpbis-partitioned-cookies). It asks for a
 * secure context, which localhost is.
 */
export const framedCookie = (id: PortalId, base: string): string => named(`elkhorn_framed_${id}`, base);
export const seeAsCookieName = (id: PortalId, base: string): string => named(`elkhorn_seeas_${id}`, base);
export const officeCookie = (): string => named("elkhorn_office", "");

export async function setSessionCookie(id: PortalId, base: string, token: string): Promise<void> {
  (await cookies()).set(sessionCookie(id, base), token, kept(base, ABSOLUTE / 1000));
}
const deviceCookie = (place: string, base: string): string => named(`elkhorn_device_${place}`, base);

/** Where a try to sign in comes from; `place` is a portal's id, or "office". Set by the server itself (scripts/serve.mjs). */
export async function fromHere(place: PortalId | "office", base: string, email: string): Promise<From> {
  const [jar, head] = await Promise.all([cookies(), headers()]);
  const device = deviceOf(place, accountOf(email), jar.get(deviceCookie(place, base))?.value);
  return { address: head.get("x-elkhorn-from") ?? "unknown", device };
}

/** Somebody was in from this device: next time it waits for nobody else's tries. */
export async function rememberDevice(place: PortalId | "office", base: string, email: string): Promise<void> {
  (await cookies()).set(deviceCookie(place, base), deviceToken(place, accountOf(email)), kept(base, DEVICE_LASTS / 1000));
}

const askedCookie = (id: PortalId, base: string): string => named(`elkhorn_code_${id}`, base);
const ASKED_LASTS = 10 * 60;

/** For whom a code was asked for here; it opens nothing by itself. */
export async function rememberAskedFor(id: PortalId, base: string, email: string): Promise<void> {
  const value = encodeURIComponent(email.slice(0, 300));
  (await cookies()).set(askedCookie(id, base), value, kept(base, ASKED_LASTS));
}
/** The e-mail for which a code was asked for in this browser; undefined where none was. */
export async function codeAskedFor(id: PortalId, base: string): Promise<string | undefined> {
  const value = (await cookies()).get(askedCookie(id, base))?.value;
  try {
    return value === undefined ? undefined : decodeURIComponent(value);
  } catch {
    return undefined; // somebody wrote it themselves
  }
}
/** Forgets for whom a code was asked for here. */
export const forgetAskedFor = async (id: PortalId, base: string): Promise<void> =>
  void (await cookies()).set(askedCookie(id, base), "", kept(base, 0));

/** What this browser holds while it signs in elsewhere: whoever comes back is whoever went. It opens nothing by itself. */
const browserCookie = (id: PortalId, base: string): string => named(`elkhorn_out_${id}`, base);
/** Gives this browser a new key for one way out and back, and answers it. */
export async function newBrowserKey(id: PortalId, base: string): Promise<string> {
  const key = newToken();
  (await cookies()).set(browserCookie(id, base), key, kept(base, ASKED_LASTS));
  return key;
}
/** The key that this browser went out with; undefined where it has none. */
export const browserKey = async (id: PortalId, base: string): Promise<string | undefined> =>
  (await cookies()).get(browserCookie(id, base))?.value;

/** What a browser holds that asked for a link: opened there, the link needs nothing else. Its hash, made where there is none yet. */
const linkCookie = (id: PortalId, base: string): string => named(`elkhorn_link_${id}`, base);
/** Hash of what this browser holds for its links, made where there is nothing yet. */
export async function linkBrowser(id: PortalId, base: string): Promise<string> {
  const jar = await cookies();
  const there = jar.get(linkCookie(id, base))?.value;
  const key = there && /^[\w-]{40,60}$/.test(there) ? there : newToken();
  jar.set(linkCookie(id, base), key, kept(base, LINK_BROWSER_LASTS));
  return tokenHash(key);
}
/** Hash of what this browser holds for its links; null where it asked for none. */
export async function linkBrowserHere(id: PortalId, base: string): Promise<string | null> {
  const key = (await cookies()).get(linkCookie(id, base))?.value;
  return key ? tokenHash(key) : null;
}
/** Where somebody was going who asked for a link here: opened in this browser, it leads on there. It opens nothing by itself. */
const toCookie = (id: PortalId, base: string): string => named(`elkhorn_to_${id}`, base);
/** Remembers in this browser where somebody was going. */
export async function rememberTo(id: PortalId, base: string, to: string): Promise<void> {
  (await cookies()).set(toCookie(id, base), encodeURIComponent(to.slice(0, 1_500)), kept(base, LINK_BROWSER_LASTS));
}
/** Where somebody was going, as a path of the portal; its home where nothing is remembered. */
export async function rememberedTo(id: PortalId, base: string): Promise<string> {
  const value = (await cookies()).get(toCookie(id, base))?.value;
  try {
    return safePath(value === undefined ? "/" : decodeURIComponent(value));
  } catch {
    return "/"; // somebody wrote it themselves
  }
}
/** Seconds: as long as such a link works, and a little. */
const LINK_BROWSER_LASTS = 60 * 60;

const inFrame = (base: string, maxAge: number) =>
  ({ httpOnly: true, sameSite: "none", secure: true, partitioned: true, path: base || "/", maxAge }) as const;

/** Sets the cookie of a session that is shown inside another site. */
export async function enterFrame(file: PortalFile, base: string, token: string): Promise<void> {
  (await cookies()).set(framedCookie(file.id, base), token, inFrame(base, FRAMED_LASTS / 1000));
}

/** Takes the session's cookie away, and answers what it held. */
export async function clearSessionCookie(id: PortalId, base: string): Promise<string | undefined> {
  const jar = await cookies();
  const own = jar.get(sessionCookie(id, base))?.value;
  const token = own ?? jar.get(framedCookie(id, base))?.value;
  if (own === undefined && token !== undefined) {
    jar.set(framedCookie(id, base), "", inFrame(base, 0));
    return token;
  }
  jar.set(sessionCookie(id, base), "", kept(base, 0));
  return token;
}

/** Sets, for so many seconds, as whom the portal is looked at; none at all takes the cookie away. */
export async function setSeeAsCookie(id: PortalId, base: string, value: string, seconds: number): Promise<void> {
  (await cookies()).set(seeAsCookieName(id, base), value, kept(base, seconds));
}

/** Sets the back office's cookie for a session, for fourteen days. */
export async function setOfficeCookie(token: string): Promise<void> {
  (await cookies()).set(officeCookie(), token, kept("", 14 * 86_400));
}
/** Takes the back office's cookie away, and answers what it held. */
export async function clearOfficeCookie(): Promise<string | undefined> {
  const jar = await cookies();
  const token = jar.get(officeCookie())?.value;
  jar.set(officeCookie(), "", kept("", 0));
  return token;
}

/** What the browser holds for the office, whatever it opens: for the second of two steps. */
export const officeToken = async (): Promise<string | undefined> => (await cookies()).get(officeCookie())?.value;
