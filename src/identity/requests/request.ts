/** Who is asking, on this host: reads cookies and headers, never arguments of an action. */

import { cookies, headers } from "next/headers";
import { cache } from "react";
import { config } from "@/config";
import { mayInOffice, type Right } from "@/core/access/who/office";
import type { Owner, Viewer } from "@/core/access/who/viewer";
import { asSignedIn } from "@/core/access/who/viewer";
import { safePath } from "@/core/address/safe-path";
import type { PortalId } from "@/core/ids";
import { type Published, published } from "@/data/definition/published";
import { timeIn } from "@/data/file/clock";
import { type PortalFile, portalFile } from "@/data/file/open";
import { whenFree } from "@/data/file/when-free";
import { actingOf, type Held } from "@/data/people/acting";
import { Desk } from "@/data/records/desk";
import type { From } from "../limits/limits";
import { officeSession, officeSessionStands, type Staff } from "../office/sessions";
import { accountOf } from "../passwords/passwords";
import { DEVICE_LASTS, deviceOf, deviceToken } from "../secrets/device";
import { newToken, tokenHash } from "../secrets/secrets";
import { FRAMED_LASTS } from "../sessions/framed";
import { ABSOLUTE, endSession, findSession, type Session } from "../sessions/sessions";
import { ownerViewer, viewerOf, visitorViewer } from "../viewers/viewer";
import { portalAddress } from "./addresses";
import { RefusedWrite } from "./refused-write";
import { AS_VISITOR, readSeeAs, SEE_AS_LASTS, type SeeAs, seeAsCookie, writeTicket } from "./see-as";

export interface PortalRequest {
  readonly slug: string;
  readonly file: PortalFile;
  readonly published: Published;
  readonly viewer: Viewer;
  readonly desk: Desk;
  /** Of the person who looks, or is looked as; what is acted in is among them. */
  readonly memberships: readonly Held[];
  /** Null for visitors and while seeing as. */
  readonly session: Session | null;
  /** Of somebody who waits for a second step: it opens nothing but the page for that, and they are a visitor everywhere else. */
  readonly half: Session | null;
  readonly seeAs: SeeAs | null;
  /** Somebody whom the agency has not let in yet: a visitor everywhere, who is told what they wait for. */
  readonly waits: boolean;
  /** Somebody is looked as who has never been in: they are shown as though they were. */
  readonly notInYet: boolean;
  /** A temporary password opens nothing but the page that replaces it: until then the viewer is a visitor. */
  readonly mustChoosePassword: boolean;
  /** Of somebody with a temporary password: good for choosing one, and for nothing else. */
  readonly choosing: Session | null;
  /** What addresses of this portal begin with here: "" on its own host, "/p/<slug>" on the main one. */
  readonly base: string;
  /** The path asked for, without the base, with its query. */
  readonly path: string;
}

/**
 * RFC 6265bis section 4.1.3: a browser takes `__Host-` only over https, for this very host and all of its paths; under a path of the main
 * host `__Secure-` is what can be had. Over http (localhost) neither can.
 */
const named = (name: string, base: string): string => (config().secure ? `${base ? "__Secure-" : "__Host-"}${name}` : name);
export const sessionCookie = (id: PortalId, base: string): string => named(`elkhorn_${id}`, base);
/**
 * Inside another site's frame: kept apart for each site that shows it (CHIPS, draft-cutler-httpbis-partitioned-cookies). It asks for a
 * secure context, which localhost is.
 */
const framedCookie = (id: PortalId, base: string): string => named(`elkhorn_framed_${id}`, base);
const seeAsCookieName = (id: PortalId, base: string): string => named(`elkhorn_seeas_${id}`, base);
const officeCookie = (): string => named("elkhorn_office", "");

type Looked = Pick<PortalRequest, "viewer" | "memberships" | "waits" | "notInYet">;

/** As a visitor, as somebody who waits to be approved, or as a person; of whoever has not been in yet, as it will be once they are. */
export function lookedAs(file: PortalFile, seeAs: SeeAs, now: number): Looked | undefined {
  const none = { memberships: [], waits: false, notInYet: false };
  if (seeAs.personId === AS_VISITOR) return { ...none, viewer: visitorViewer(file, now) };
  const acting = actingOf(file, seeAs.personId);
  if (!acting) return undefined;
  const { status } = acting.person;
  if (status === "awaiting approval") return { ...none, viewer: visitorViewer(file, now), waits: true };
  const viewer = viewerOf(file, { ...acting, person: asSignedIn(acting.person) }, seeAs.membershipId, now, "see-as");
  return { viewer, memberships: acting.memberships, waits: false, notInYet: status === "invited" };
}

export const requestPortal = cache(async (slug: string): Promise<PortalRequest | undefined> => {
  const file = portalFile(slug);
  if (!file) return undefined;
  file.meta.look();
  const [jar, head] = await Promise.all([cookies(), headers()]);
  const real = Date.now();
  const now = timeIn(file, real);
  const base = head.get("x-elkhorn-base") ?? `/p/${slug}`;
  const path = head.get("x-elkhorn-path") ?? "/";
  const shared = { slug, published: published(file), base, path };

  const seeAs = readSeeAs(file.id, jar.get(seeAsCookieName(file.id, base))?.value, real);
  // The office's own cookie does not come to a portal's host; whether its session still stands is asked at each request.
  if (seeAs && officeSessionStands(seeAs.session, real)) {
    const readOnly = portalFile(slug, true)!;
    readOnly.meta.look();
    const looked = lookedAs(readOnly, seeAs, now);
    if (looked) {
      const live = published(readOnly);
      const desk = new Desk(readOnly, live.policy, looked.viewer);
      return {
        ...shared,
        ...looked,
        file: readOnly,
        published: live,
        desk,
        session: null,
        half: null,
        seeAs,
        mustChoosePassword: false,
        choosing: null,
      };
    }
  }

  const token =
    jar.get(sessionCookie(file.id, base))?.value ??
    // No site is listed any more: what was signed in there is out.
    (shared.published.definition.frames.length > 0 ? jar.get(framedCookie(file.id, base))?.value : undefined);
  const found = token ? findSession(file, token, real) : undefined;
  const session = found?.step === "in" ? found : undefined;
  const who = session && actingOf(file, session.personId);
  const viewer = session && who && viewerOf(file, who, session.membershipId, now);
  const mustChoose = who?.person.password === "temporary";
  const usable = viewer && viewer.person?.status === "active" && !mustChoose;
  const acting = usable ? viewer : visitorViewer(file, now);
  return {
    ...shared,
    file,
    viewer: acting,
    desk: new Desk(file, shared.published.policy, acting),
    memberships: usable ? who!.memberships : [],
    session: viewer && session && !mustChoose ? session : null,
    choosing: viewer && session && mustChoose ? session : null,
    half: found && !session ? found : null,
    seeAs: null,
    notInYet: false,
    waits: viewer?.person?.status === "awaiting approval",
    mustChoosePassword: mustChoose,
  };
});

async function setSessionCookie(id: PortalId, base: string, token: string): Promise<void> {
  (await cookies()).set(sessionCookie(id, base), token, {
    httpOnly: true,
    sameSite: "lax",
    secure: config().secure,
    path: base || "/",
    maxAge: ABSOLUTE / 1000,
  });
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
  (await cookies()).set(deviceCookie(place, base), deviceToken(place, accountOf(email)), {
    httpOnly: true,
    sameSite: "lax",
    secure: config().secure,
    path: base || "/",
    maxAge: DEVICE_LASTS / 1000,
  });
}

const askedCookie = (id: PortalId, base: string): string => named(`elkhorn_code_${id}`, base);
const ASKED_LASTS = 10 * 60;

/** For whom a code was asked for here; it opens nothing by itself. */
export async function rememberAskedFor(id: PortalId, base: string, email: string): Promise<void> {
  const value = encodeURIComponent(email.slice(0, 300));
  (await cookies()).set(askedCookie(id, base), value, {
    httpOnly: true,
    sameSite: "lax",
    secure: config().secure,
    path: base || "/",
    maxAge: ASKED_LASTS,
  });
}
export async function codeAskedFor(id: PortalId, base: string): Promise<string | undefined> {
  const value = (await cookies()).get(askedCookie(id, base))?.value;
  try {
    return value === undefined ? undefined : decodeURIComponent(value);
  } catch {
    return undefined; // somebody wrote it themselves
  }
}
export const forgetAskedFor = async (id: PortalId, base: string): Promise<void> =>
  void (await cookies()).set(askedCookie(id, base), "", { path: base || "/", secure: config().secure, httpOnly: true, maxAge: 0 });

/** What this browser holds while it signs in elsewhere: whoever comes back is whoever went. It opens nothing by itself. */
const browserCookie = (id: PortalId, base: string): string => named(`elkhorn_out_${id}`, base);
export async function newBrowserKey(id: PortalId, base: string): Promise<string> {
  const key = newToken();
  const kept = { httpOnly: true, sameSite: "lax", secure: config().secure, path: base || "/", maxAge: ASKED_LASTS } as const;
  (await cookies()).set(browserCookie(id, base), key, kept);
  return key;
}
export const browserKey = async (id: PortalId, base: string): Promise<string | undefined> =>
  (await cookies()).get(browserCookie(id, base))?.value;

/** What a browser holds that asked for a link: opened there, the link needs nothing else. Its hash, made where there is none yet. */
const linkCookie = (id: PortalId, base: string): string => named(`elkhorn_link_${id}`, base);
export async function linkBrowser(id: PortalId, base: string): Promise<string> {
  const jar = await cookies();
  const there = jar.get(linkCookie(id, base))?.value;
  const key = there && /^[\w-]{40,60}$/.test(there) ? there : newToken();
  jar.set(linkCookie(id, base), key, {
    httpOnly: true,
    sameSite: "lax",
    secure: config().secure,
    path: base || "/",
    maxAge: LINK_BROWSER_LASTS,
  });
  return tokenHash(key);
}
export async function linkBrowserHere(id: PortalId, base: string): Promise<string | null> {
  const key = (await cookies()).get(linkCookie(id, base))?.value;
  return key ? tokenHash(key) : null;
}
/** Where somebody was going who asked for a link here: opened in this browser, it leads on there. It opens nothing by itself. */
const toCookie = (id: PortalId, base: string): string => named(`elkhorn_to_${id}`, base);
export async function rememberTo(id: PortalId, base: string, to: string): Promise<void> {
  (await cookies()).set(toCookie(id, base), encodeURIComponent(to.slice(0, 1_500)), {
    httpOnly: true,
    sameSite: "lax",
    secure: config().secure,
    path: base || "/",
    maxAge: LINK_BROWSER_LASTS,
  });
}
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

/** The session that a browser held before ends, whoever's it was: what was signed in over is not to be found again. */
export async function enterPortal(file: PortalFile, base: string, token: string, email: string | null): Promise<void> {
  const before = (await cookies()).get(sessionCookie(file.id, base))?.value;
  if (before && before !== token) endSession(file, before);
  await setSessionCookie(file.id, base, token);
  // A device is known once everything was shown that is asked for: half a sign-in makes none.
  const session = email ? findSession(file, token, Date.now()) : undefined;
  if (email && session?.step === "in") await rememberDevice(file.id, base, email);
}

const inFrame = (base: string, maxAge: number) =>
  ({ httpOnly: true, sameSite: "none", secure: true, partitioned: true, path: base || "/", maxAge }) as const;

export async function enterFrame(file: PortalFile, base: string, token: string): Promise<void> {
  (await cookies()).set(framedCookie(file.id, base), token, inFrame(base, FRAMED_LASTS / 1000));
}

export async function clearSessionCookie(id: PortalId, base: string): Promise<string | undefined> {
  const jar = await cookies();
  const own = jar.get(sessionCookie(id, base))?.value;
  const token = own ?? jar.get(framedCookie(id, base))?.value;
  if (own === undefined && token !== undefined) {
    jar.set(framedCookie(id, base), "", inFrame(base, 0));
    return token;
  }
  jar.set(sessionCookie(id, base), "", { httpOnly: true, sameSite: "lax", secure: config().secure, path: base || "/", maxAge: 0 });
  return token;
}

export async function setSeeAsCookie(id: PortalId, base: string, value: string, seconds: number): Promise<void> {
  (await cookies()).set(seeAsCookieName(id, base), value, {
    httpOnly: true,
    sameSite: "lax",
    secure: config().secure,
    path: base || "/",
    maxAge: seconds,
  });
}

/**
 * Where "see as" begins. A host of its own gets a ticket; under a path of this one the cookie is set here, as Next fetches a redirect's
 * page of this host by itself, and would use the ticket up.
 */
export async function wayToSeeAs(file: PortalFile, slug: string, seeAs: SeeAs, now: number): Promise<string> {
  if (!config().paths) return `${portalAddress(slug)}/-/see-as?ticket=${writeTicket(file.id, seeAs, now)}`;
  const base = `/p/${slug}`;
  await setSeeAsCookie(file.id, base, seeAsCookie(file.id, seeAs, now), SEE_AS_LASTS / 1000);
  return base;
}

export interface OfficeRequest {
  readonly staff: Staff;
  readonly owner: Owner;
  readonly path: string;
  /** What stands for this session without opening it. */
  readonly session: string;
}

/** Undefined where nobody is signed in, or they may not. There is no asking without saying what for. */
export const requestOffice = cache(async (right: Right): Promise<OfficeRequest | undefined> => {
  const now = Date.now();
  const found = officeSession((await cookies()).get(officeCookie())?.value, now);
  if (!found || !mayInOffice(found.staff.role, right)) return undefined;
  return { ...found, owner: ownerViewer(found.staff, now), path: (await headers()).get("x-elkhorn-path") ?? "/" };
});

export async function setOfficeCookie(token: string): Promise<void> {
  (await cookies()).set(officeCookie(), token, {
    httpOnly: true,
    sameSite: "lax",
    secure: config().secure,
    path: "/",
    maxAge: 14 * 86_400,
  });
}
export async function clearOfficeCookie(): Promise<string | undefined> {
  const jar = await cookies();
  const token = jar.get(officeCookie())?.value;
  jar.set(officeCookie(), "", { httpOnly: true, sameSite: "lax", secure: config().secure, path: "/", maxAge: 0 });
  return token;
}

/** Writes from a browser come from this very host: a sibling portal is a stranger. Programs send no Origin and hold no cookie. */
export async function sameOrigin(): Promise<boolean> {
  const head = await headers();
  const origin = head.get("origin");
  const site = head.get("sec-fetch-site");
  if (origin === null) return site === null || site === "same-origin" || site === "none";
  try {
    const { host, protocol } = new URL(origin);
    // The scheme is part of an origin (RFC 6454 section 4): a page had by http at the same host is a stranger to one had by https.
    return host === head.get("host") && protocol === config().address.protocol;
  } catch {
    return false; // "null" and other oddities
  }
}

/** For routes that the proxy does not pass: a portal's host has no back office. */
export async function onMainHost(): Promise<boolean> {
  return (await headers()).get("host")?.toLowerCase() === config().address.host.toLowerCase();
}

/** For server actions: the portal of the address that was posted to, whatever the form says. */
export async function requestThisPortal(): Promise<PortalRequest | undefined> {
  const slug = (await headers()).get("x-elkhorn-portal");
  return slug ? requestPortal(slug) : undefined;
}

/** A write in a portal: same origin, and not while seeing as. */
export async function requestPortalWrite(): Promise<PortalRequest> {
  const r = await requestThisPortal();
  if (!r) throw new RefusedWrite("No portal answers at this address.");
  if (!(await sameOrigin())) throw new RefusedWrite("Writes are taken from this portal's own pages only.");
  if (r.seeAs) throw new RefusedWrite("You are looking as somebody else; nothing can be changed.");
  await whenFree(r.file);
  return r;
}

export async function requestOfficeWrite(right: Right): Promise<OfficeRequest> {
  const r = await requestOffice(right);
  if (!r || !(await sameOrigin())) throw new RefusedWrite("Sign in to the back office first, as somebody who may do this.");
  return r;
}

/** What the browser holds for the office, whatever it opens: for the second of two steps. */
export const officeToken = async (): Promise<string | undefined> => (await cookies()).get(officeCookie())?.value;
