/** Signing in by a provider: away, and back. Each answer leads on; what went wrong is said on the sign-in page. */

import { whenFree } from "@/data/file/when-free";
import { outsideDoor } from "@/identity/doors/outside";
import { doorSettings } from "@/identity/doors/settings";
import { comeIn } from "@/identity/entering/enter";
import { beginLimits, countTry, forgetTries, waitFor } from "@/identity/limits/limits";
import { beginOidc, endOidc } from "@/identity/providers/oidc";
import { type Claimed, type Provider, providerById } from "@/identity/providers/providers";
import { beginSaml, consumeSaml, landSaml, samlMetadata } from "@/identity/providers/saml";
import { MOST_CHARACTERS } from "@/identity/providers/saml-verify";
import { portalAddress } from "@/identity/requests/addresses";
import { browserKey, fromHere, newBrowserKey } from "@/identity/requests/cookies";
import { enterPortal, type PortalRequest, requestPortal } from "@/identity/requests/request";
import { guardedFetch } from "@/services/outside/guarded";
import { safePath } from "../entry";
import { landingOf } from "../landing";

export type Place = "begin" | "back" | "consumer" | "land" | "metadata";

const to = (url: string, status = 303): Response =>
  new Response(null, { status, headers: { location: url, "cache-control": "no-store", "referrer-policy": "no-referrer" } });
const told = (r: PortalRequest, what: "away" | "over" | "refused" | "unknown" | "busy"): Response =>
  to(`${portalAddress(r.slug)}/sign-in?outside=${what}`);
const NOT_FOUND = (): Response => new Response("Not found", { status: 404 });

/** The steps of signing in at a provider elsewhere. 404 where the portal has no such provider or its door is shut. */
export async function outsideRoute(request: Request, slug: string, id: string, place: Place): Promise<Response> {
  const r = await requestPortal(slug);
  const p = r && providerById(r.file, id);
  if (!r || !p || r.seeAs || !doorSettings(r.file).open.includes("outside")) return NOT_FOUND();
  await whenFree(r.file);
  const own = `${portalAddress(slug)}/-/outside/${p.id}`;
  const places = { entity: `${own}/metadata`, consumer: `${own}/consumer` };
  const now = Date.now();
  const asked = new URL(request.url).searchParams;
  switch (place) {
    case "begin": {
      const limits = beginLimits(await fromHere(r.file.id, r.base, ""));
      if (waitFor(r.file.orm, limits, now) > 0) return told(r, "busy");
      countTry(r.file.orm, limits, now);
      const browser = await newBrowserKey(r.file.id, r.base);
      const way = safePath(asked.get("to"));
      if (p.kind === "saml") return to((await beginSaml(r.file, p, places, { to: way, browser }, now)).href);
      const begun = await beginOidc(r.file, p, { back: `${own}/back`, to: way, browser }, now, guardedFetch);
      return begun.ok ? to(begun.value.href) : told(r, begun.error);
    }
    case "back": {
      if (p.kind !== "oidc") return NOT_FOUND();
      const done = await endOidc(r.file, p, new URL(`${own}/back?${asked}`), await browserKey(r.file.id, r.base), now, guardedFetch);
      return done.ok ? finish(r, p, done.value) : told(r, done.error);
    }
    case "consumer": {
      if (p.kind !== "saml") return NOT_FOUND();
      // Counted before anything of it is read.
      const limits = beginLimits(await fromHere(r.file.id, r.base, ""));
      if (waitFor(r.file.orm, limits, now) > 0) return told(r, "busy");
      countTry(r.file.orm, limits, now);
      const posted = await request.formData().catch(() => null);
      const response = posted?.get("SAMLResponse");
      if (typeof response !== "string" || response.length > MOST_CHARACTERS) return told(r, "refused");
      const done = await consumeSaml(r.file, p, places, response, now);
      return done.ok ? to(`${own}/land?t=${done.value.landing}`) : told(r, done.error);
    }
    case "land": {
      const done = landSaml(r.file, p, asked.get("t") ?? "", await browserKey(r.file.id, r.base), now);
      return done.ok ? finish(r, p, done.value) : told(r, done.error);
    }
    case "metadata": {
      if (p.kind !== "saml") return NOT_FOUND();
      return new Response(samlMetadata(r.file, p, places, now), {
        headers: { "content-type": "application/samlmetadata+xml", "cache-control": "no-store" },
      });
    }
  }
}

async function finish(r: PortalRequest, provider: Provider, { claimed, to: way }: { claimed: Claimed; to: string }): Promise<Response> {
  const from = await fromHere(r.file.id, r.base, "");
  const done = await comeIn(r.file, outsideDoor, { provider, claimed }, from, Date.now());
  if (!done.ok) return told(r, done.error.code === "wrong" ? "unknown" : "refused");
  forgetTries(r.file.orm, beginLimits(from));
  await enterPortal(r.file, r.base, done.value.token, null);
  return to(new URL(landingOf(r, done.value.personId, way), portalAddress(r.slug)).href);
}
