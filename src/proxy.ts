/**
 * Maps the host to a portal. On a portal's own host every path belongs to that portal, so another portal's `/p/...` cannot be
 * reached there; on the main host a portal stands under `/p/<slug>` only where the operator turned that on. Headers that say so are ours
 * alone: a client's are dropped. Pages get a policy of what they may load, with a nonce of their own.
 */

import { type NextRequest, NextResponse } from "next/server";
import { once } from "@/data/file/per-process";
import { config as settings } from "./config";
import { published } from "./data/definition/published";
import { portalFile, portalIdAt } from "./data/file/open";
import { mainDomain, mainDomains, slugAt } from "./data/installation/domains";
import { unavailable } from "./data/installation/supervisor";

const { address, paths, till } = settings();
const MAIN_HOST = address.hostname.toLowerCase();
/** Addresses of files, in portals and in the office. */
const FILES = /^(?:\/p\/[^/]+|\/portals\/[^/]+)?\/-\/(?:files|brand)\//;
/** Asked by whatever watches the process or keeps its certificates, under any name that leads to it. */
const ANY_HOST = new Set(["/-/health", "/-/ready", "/-/domain"]);

/**
 * After an action's redirect Next fetches the next page from itself, under the main host's name: without this, a portal's
 * visitor would be handed the back office's page of that path. Such a fetch carries our own headers and this process's key.
 */
const KEY = once("inner key", () => crypto.randomUUID());

/** RFC 9110 section 15.5.20. A name that only happens to lead here is no name of ours: links in mails would carry it on. */
const misdirected = (path: string): NextResponse =>
  told(
    421,
    "Misdirected request",
    `Elkhorn answers at ${address.origin}, and its portals each at a name of their own below that. There is none by this name.`,
    path,
  );

/** In words, and to programs as a problem (RFC 9457). */
function told(status: number, title: string, detail: string, path: string): NextResponse {
  const api = /^(?:\/p\/[^/]+)?\/api\//.test(path);
  const body = api ? JSON.stringify({ type: "about:blank", title, status, detail }) : `${detail}\n`;
  const type = api ? "application/problem+json" : "text/plain; charset=utf-8";
  return new NextResponse(body, { status, headers: { "content-type": type, "cache-control": "no-store" } });
}

/** RFC 9110 section 15.6.4: of one portal alone. What is wrong is told in the office, and nothing of it to clients. */
function notNow(path: string, why: string | null): NextResponse {
  const detail = why
    ? `This portal is unavailable. ${why}`
    : "This portal is unavailable for a moment. Try again in a minute: nothing is lost.";
  const answer = told(503, "Unavailable", detail, path);
  answer.headers.set("retry-after", "60");
  return answer;
}

const DEVELOPING = process.env.NODE_ENV === "development";

/**
 * Content Security Policy (W3C, level 3): scripts with this answer's nonce and Elkhorn's own files, nothing from elsewhere, in nobody's
 * frame. Styles stand in attributes (brand colours, widths), so they are not bound to the nonce. A form may lead to where see-as
 * leads: from the office to a portal's host, and back.
 */
const contentPolicy = (nonce: string, forms: string, frames: string, ancestors: string): string =>
  [
    "default-src 'none'",
    `script-src 'self' 'nonce-${nonce}'${DEVELOPING ? " 'unsafe-eval'" : ""}`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self'",
    `connect-src 'self'${DEVELOPING ? " ws:" : ""}`,
    "manifest-src 'self'",
    `form-action 'self' ${forms}`,
    "base-uri 'none'",
    `frame-src ${frames}`,
    `frame-ancestors ${ancestors}`,
  ].join("; ");

/**
 * Sites that the agency listed. A session's cookie is not sent along into another site's frame (SameSite=Lax, RFC 6265bis section 5.2), so
 * what stands there is what a visitor sees.
 */
function framedBy(portal: string): string {
  const file = portalFile(portal);
  const origins = file ? published(file).definition.frames : [];
  return origins.length > 0 ? origins.join(" ") : "'none'";
}

/**
 * What may be framed, and by whom: in the office its own pages, since one is left for another without a new document; and of those only the
 * page that is being laid out lets itself be framed.
 */
function framesAt(portal: string | null, path: string): [string, string] {
  if (portal !== null) return ["'none'", framedBy(portal)];
  return ["'self'", /^\/portals\/[^/]+\/-\/preview\/[^/]+$/.test(path) ? "'self'" : "'none'"];
}

/** Where a form of the office may lead: to portals, wherever they stand. */
const officeForms = (): string => [...(paths ? [] : [`${address.protocol}//*.${address.host}`]), ...mainDomains().map(atPort)].join(" ");
const atPort = (host: string): string => `${address.protocol}//${host}${address.port ? `:${address.port}` : ""}`;

/** Undefined where nothing stands under this name; null for the office. */
function portalUnder(hostname: string): string | null | undefined {
  if (hostname === MAIN_HOST) return null;
  if (!hostname.endsWith(`.${MAIN_HOST}`)) return slugAt(hostname);
  const slug = hostname.slice(0, -MAIN_HOST.length - 1);
  return portalIdAt(slug) ? slug : undefined;
}

/**
 * A page that is read at another of a portal's names is to be found at its main one. What is sent stays where its form was, programs keep the
 * address that they have (a redirect would drop their key: Fetch standard, section 4.4), and so does what the server fetches from itself.
 */
function elsewhere(request: NextRequest, hostname: string, portal: string): NextResponse | undefined {
  const { pathname, search } = request.nextUrl;
  if (!["GET", "HEAD"].includes(request.method) || pathname.startsWith("/api/") || pathname.startsWith("/-/see-as")) return undefined;
  const main = mainDomain(portal);
  if (!main || main === hostname) {
    // A domain that is no longer, or not yet, the main one leads to the portal's own name.
    if (main || hostname.endsWith(`.${MAIN_HOST}`)) return undefined;
    return NextResponse.redirect(`${atPort(`${portal}.${MAIN_HOST}`)}${pathname}${search}`, 307);
  }
  return NextResponse.redirect(`${atPort(main)}${pathname}${search}`, 307);
}

export function proxy(request: NextRequest): NextResponse {
  if (ANY_HOST.has(request.nextUrl.pathname)) return NextResponse.next();
  const headers = new Headers(request.headers);
  const ours = headers.get("x-elkhorn-key") === KEY ? headers.get("x-elkhorn-host") : null;
  const from = headers.get("x-elkhorn-from"); // the server's own word, whatever a client sent (scripts/serve.mjs)
  for (const name of [...headers.keys()]) if (name.startsWith("x-elkhorn-")) headers.delete(name);
  if (from) headers.set("x-elkhorn-from", from);
  const host = ours ?? request.headers.get("host") ?? "";
  headers.set("x-elkhorn-key", KEY);
  headers.set("x-elkhorn-host", host);
  const hostname = host.replace(/:\d+$/, "").toLowerCase();
  const portal = portalUnder(hostname);
  if (portal === undefined) return misdirected(request.nextUrl.pathname);
  const at = portal ?? /^\/portals\/([a-z0-9-]+)(?=\/|$)/.exec(request.nextUrl.pathname)?.[1] ?? null;
  const down = at !== null && portalIdAt(at) ? unavailable(at, Date.now()) : null;
  if (down) return notNow(request.nextUrl.pathname, portal === null ? down.why : null);
  const away = portal === null || ours ? undefined : elsewhere(request, hostname, portal);
  if (away) return away;

  const policy = contentPolicy(
    crypto.randomUUID().replaceAll("-", ""),
    portal === null ? officeForms() : [address.origin, ...(till === null ? [] : [new URL(till).origin])].join(" "),
    ...framesAt(portal, request.nextUrl.pathname),
  );
  headers.set("content-security-policy", policy); // Next reads the nonce of its own scripts from here
  const answer = route(request, headers, portal);
  // Files have a policy of their own, without scripts and in a sandbox (features/files/outgoing.ts): a page's policy beside it would be in its place.
  if (!FILES.test(request.nextUrl.pathname)) answer.headers.set("content-security-policy", policy);
  return answer;
}

function route(request: NextRequest, headers: Headers, portal: string | null): NextResponse {
  const { pathname, search } = request.nextUrl;
  if (portal !== null) {
    headers.set("x-elkhorn-portal", portal);
    headers.set("x-elkhorn-base", "");
    headers.set("x-elkhorn-path", pathname + search);
    const url = request.nextUrl.clone();
    url.pathname = `/p/${portal}${pathname === "/" ? "" : pathname}`;
    return NextResponse.rewrite(url, { request: { headers } });
  }
  const under = /^\/p\/([a-z0-9-]+)(?=\/|$)/.exec(pathname);
  if (under && paths) {
    headers.set("x-elkhorn-portal", under[1]!);
    headers.set("x-elkhorn-base", under[0]);
    headers.set("x-elkhorn-path", (pathname.slice(under[0].length) || "/") + search);
  } else if (/^\/p(?=\/|$)/.test(pathname)) {
    return told(
      404,
      "Not found",
      "Portals stand on hosts of their own here. Where they are to stand under /p/, set ELKHORN_PORTAL_PATHS=on.",
      pathname,
    );
  } else headers.set("x-elkhorn-path", pathname + search);
  return NextResponse.next({ request: { headers } });
}

/**
 * Nothing looser: a matcher that skipped *.png served another portal's page. An upload goes by, since the proxy would hold all of it in
 * memory; its route looks at the host itself.
 */
export const config = { matcher: "/((?!_next/static|_next/image|portals/[^/]+/data/import/upload$).*)" };
