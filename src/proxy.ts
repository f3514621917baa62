/**
 * Maps the host to a portal. On a portal's own host every path belongs to that portal, so another portal's `/p/...` cannot be
 * reached there; on the main host a portal stands under `/p/<slug>`. Headers that say so are ours alone: a client's are dropped.
 */

import { type NextRequest, NextResponse } from "next/server";
import { config as settings } from "./config";

const { origin, hostname: main } = settings().address;
const MAIN_HOST = main.toLowerCase();
/** Asked by whatever watches the process, under any name that leads to it. */
const ANY_HOST = new Set(["/-/health", "/-/ready"]);

/**
 * After an action's redirect Next fetches the next page from itself, under the main host's name: without this, a portal's
 * visitor would be handed the back office's page of that path. Such a fetch carries our own headers and this process's key.
 */
const KEY = crypto.randomUUID();

/** RFC 9110 section 15.5.20. A name that only happens to lead here is no name of the back office: links in mails would carry it on. */
const misdirected = (): NextResponse =>
  new NextResponse(`Elkhorn answers at ${origin}. Where it is to be reached by another name, set ELKHORN_ADDRESS.\n`, {
    status: 421,
    headers: { "content-type": "text/plain; charset=utf-8", "cache-control": "no-store" },
  });

export function proxy(request: NextRequest): NextResponse {
  if (ANY_HOST.has(request.nextUrl.pathname)) return NextResponse.next();
  const headers = new Headers(request.headers);
  const ours = headers.get("x-elkhorn-key") === KEY ? headers.get("x-elkhorn-host") : null;
  for (const name of [...headers.keys()]) if (name.startsWith("x-elkhorn-")) headers.delete(name);
  const host = ours ?? request.headers.get("host") ?? "";
  headers.set("x-elkhorn-key", KEY);
  headers.set("x-elkhorn-host", host);
  const hostname = host.replace(/:\d+$/, "").toLowerCase();
  const { pathname, search } = request.nextUrl;

  if (hostname !== MAIN_HOST && !hostname.endsWith(`.${MAIN_HOST}`)) return misdirected();
  const portal = hostname.endsWith(`.${MAIN_HOST}`) ? hostname.slice(0, -MAIN_HOST.length - 1) : null;
  if (portal !== null) {
    headers.set("x-elkhorn-portal", portal);
    headers.set("x-elkhorn-base", "");
    headers.set("x-elkhorn-path", pathname + search);
    const url = request.nextUrl.clone();
    url.pathname = `/p/${encodeURIComponent(portal)}${pathname === "/" ? "" : pathname}`;
    return NextResponse.rewrite(url, { request: { headers } });
  }
  const under = /^\/p\/([a-z0-9-]+)(?=\/|$)/.exec(pathname);
  if (under) {
    headers.set("x-elkhorn-portal", under[1]!);
    headers.set("x-elkhorn-base", under[0]);
    headers.set("x-elkhorn-path", (pathname.slice(under[0].length) || "/") + search);
  } else headers.set("x-elkhorn-path", pathname + search);
  return NextResponse.next({ request: { headers } });
}

/** Nothing looser: a matcher that skipped *.png served another portal's page. */
export const config = { matcher: "/((?!_next/static|_next/image).*)" };
