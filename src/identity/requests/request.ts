/** Who is asking, on this host: reads cookies and headers, never arguments of an action. */

import { cookies, headers } from "next/headers";
import { cache } from "react";
import { config } from "@/config";
import { mayInOffice, type Right } from "@/core/access/who/office";
import type { Owner, Viewer } from "@/core/access/who/viewer";
import { asSignedIn } from "@/core/access/who/viewer";
import { type Published, published } from "@/data/definition/published";
import { timeIn } from "@/data/file/clock";
import { type PortalFile, portalFile } from "@/data/file/open";
import { whenFree } from "@/data/file/when-free";
import { actingOf, type Held } from "@/data/people/acting";
import { Desk } from "@/data/records/desk";
import { officeSession, officeSessionStands, type Staff } from "../office/sessions";
import { endSession, findSession, type Session } from "../sessions/sessions";
import { ownerViewer, viewerOf, visitorViewer } from "../viewers/viewer";
import { portalAddress } from "./addresses";
import { framedCookie, officeCookie, rememberDevice, seeAsCookieName, sessionCookie, setSeeAsCookie, setSessionCookie } from "./cookies";
import { RefusedWrite } from "./refused-write";
import { AS_VISITOR, readSeeAs, SEE_AS_LASTS, type SeeAs, seeAsCookie, writeTicket } from "./see-as";

export interface PortalRequest {
  readonly slug: string;
  readonly file: PortalFile;
  readonly published: Published;
  readonly viewer: Viewer;
  readonly desk: Desk;
  /** All memberships of the person who looks, or is looked as; the one acted in is among them. */
  readonly memberships: readonly Held[];
  /** Null for visitors and while seeing as. */
  readonly session: Session | null;
  /** Of somebody who waits for a second step: it opens nothing but the page for that, and they are a visitor everywhere else. */
  readonly half: Session | null;
  readonly seeAs: SeeAs | null;
  /** Somebody whom the agency has not let in yet: a visitor everywhere, who is told what they wait for. */
  readonly waits: boolean;
  /** Staff see the portal as a person who has never signed in; it is shown as if they had. */
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

type Looked = Pick<PortalRequest, "viewer" | "memberships" | "waits" | "notInYet">;

/** The viewer that staff see the portal as. A person who has not signed in yet is shown as they will see it once they have. */
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

/** The session that a browser held before ends, whoever's it was: what was signed in over is not to be found again. */
export async function enterPortal(file: PortalFile, base: string, token: string, email: string | null): Promise<void> {
  const before = (await cookies()).get(sessionCookie(file.id, base))?.value;
  if (before && before !== token) endSession(file, before);
  await setSessionCookie(file.id, base, token);
  // A device is known once everything was shown that is asked for: half a sign-in makes none.
  const session = email ? findSession(file, token, Date.now()) : undefined;
  if (email && session?.step === "in") await rememberDevice(file.id, base, email);
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
  /** Names this session without being able to open it. */
  readonly session: string;
}

/** Undefined where nobody is signed in, or they may not. There is no asking without saying what for. */
export async function requestOffice(right: Right): Promise<OfficeRequest | undefined> {
  const found = await signedInToOffice();
  return found && mayInOffice(found.staff.role, right) ? found : undefined;
}

/** Whatever they may: looked up once a request, however many of its parts ask, each for a right of its own. */
const signedInToOffice = cache(async (): Promise<OfficeRequest | undefined> => {
  const now = Date.now();
  const found = officeSession((await cookies()).get(officeCookie())?.value, now);
  return found && { ...found, owner: ownerViewer(found.staff, now), path: (await headers()).get("x-elkhorn-path") ?? "/" };
});

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

/** Who writes from the back office's own pages, if they have the right. Throws for anybody else and for another site. */
export async function requestOfficeWrite(right: Right): Promise<OfficeRequest> {
  const r = await requestOffice(right);
  if (!r || !(await sameOrigin())) throw new RefusedWrite("Sign in to the back office first, as somebody who may do this.");
  return r;
}
