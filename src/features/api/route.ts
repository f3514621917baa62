/** Every API route goes through here: the portal and viewer of this host, origin of writes, problems instead of crashes. */

import type { Table } from "@/core/schema/types";
import { Busy, isBusy, whenFree } from "@/data/file/when-free";
import { Desk } from "@/data/records/desk";
import { bearerOf, keyInAddress, requestByKey } from "@/identity/requests/key-request";
import { type PortalRequest, requestPortal, sameOrigin } from "@/identity/requests/request";
import { outdatedCall, outdatedHeaders } from "./outdated";
import { invalid, notFound, Problem } from "./problem";

type Params = Record<string, string>;
export type ApiRequest = PortalRequest & { readonly request: Request; readonly params: Params; readonly query: URLSearchParams };

const WRITES = new Set(["POST", "PATCH", "DELETE", "PUT"]);

/** A route handler of the API: who asks, how often they may, and problems as RFC 9457 has them. */
export function apiRoute(handle: (r: ApiRequest) => Promise<Response> | Response) {
  return async (request: Request, context: { params: Promise<Record<string, string | string[] | undefined>> }): Promise<Response> => {
    try {
      const given = Object.entries(await context.params).filter((e): e is [string, string] => typeof e[1] === "string");
      const params: Params = Object.fromEntries(given);
      const { portal, headers } = await whoAsks(params.portal ?? "", request);
      if (WRITES.has(request.method)) {
        // A key is sent by whoever holds it, never by a browser of its own accord.
        if (!portal.viewer.key && !(await sameOrigin()))
          throw new Problem("not-allowed", "Writes are taken from this portal's own pages, or from programs.");
        if (portal.seeAs) throw new Problem("not-allowed", "You are looking as somebody else; nothing can be changed.");
        await whenFree(portal.file);
      }
      const desk = new Desk(portal.file, portal.published.policy, portal.viewer, "api");
      const url = new URL(request.url);
      const old = outdatedCall(request.method, url.pathname.split("/api/v1").at(-1) ?? "");
      const answer = await handle({ ...portal, desk, request, params, query: url.searchParams });
      for (const [name, value] of Object.entries({ ...(old ? outdatedHeaders(old, portal.base) : {}), ...headers }))
        answer.headers.set(name, value);
      return answer;
    } catch (e) {
      if (e instanceof Problem) return e.response();
      if (e instanceof Busy || isBusy(e)) return new Problem("busy", new Busy().message, undefined, { "retry-after": "1" }).response();
      console.error(e);
      return new Response(
        JSON.stringify({
          type: "about:blank",
          title: "Something went wrong",
          status: 500,
          detail: "Something went wrong on our side. Nothing was changed.",
        }),
        {
          status: 500,
          headers: { "content-type": "application/problem+json" },
        },
      );
    }
  };
}

/** Somebody with a session, a program with a key, or a visitor; with what every answer to them says. */
async function whoAsks(slug: string, request: Request): Promise<{ portal: PortalRequest; headers: Readonly<Record<string, string>> }> {
  if (keyInAddress(slug, request.url))
    throw new Problem(
      "key-in-address",
      "A key in an address is written down on the way. Send it in the Authorization header, and have this one replaced.",
    );
  const token = bearerOf(request.headers.get("authorization"));
  if (token === null) {
    const portal = await requestPortal(slug);
    if (!portal) throw notFound();
    return { portal, headers: {} };
  }
  const found = await requestByKey(slug, token);
  if (!found) throw notFound();
  if (found.state !== "open")
    throw new Problem("not-signed-in", NO_KEY[found.state], undefined, {
      "www-authenticate": 'Bearer realm="portal", error="invalid_token"',
    });
  const { rate, request: portal } = found;
  if (rate.over)
    throw new Problem(
      "too-many",
      `This key may ask ${rate.perMinute} times a minute. Wait ${rate.seconds} seconds.`,
      undefined,
      rate.headers,
    );
  return { portal, headers: rate.headers };
}

const NO_KEY = {
  unknown: "This portal knows no such key.",
  ended: "This key has ended.",
  elsewhere: "This key is not taken from this address.",
  nobody: "The role or person that this key is of is gone, or cannot sign in.",
} as const;

export const json = (body: unknown, init: ResponseInit = {}): Response =>
  Response.json(body, { ...init, headers: { "cache-control": "private, no-store", ...init.headers } });

export function signedIn(r: ApiRequest): NonNullable<PortalRequest["session"]> | null {
  if (r.viewer.kind === "visitor" && r.mustChoosePassword)
    throw new Problem("password-needed", "Choose a new password first, in the portal.");
  if (r.viewer.kind === "visitor") throw new Problem("not-signed-in", "Sign in first.");
  return r.session;
}

/** A table that the viewer's grants open. Whether one exists that they do not, nobody learns. */
export function openTable(r: ApiRequest): Table {
  const table = r.published.policy.schema.tableBySlug(r.params.table ?? "");
  if (table && r.desk.may(table, "see")) return table;
  signedIn(r);
  const reasons = table ? r.desk.scope(table).reasons : [];
  if (table && reasons.length > 0 && reasons.every((x) => x.code === "feature")) {
    throw new Problem("plan-needed", `${table.name} are not part of your company's plan.`);
  }
  throw notFound();
}

export async function jsonBody(request: Request, most = 1_000_000): Promise<unknown> {
  const text = await request.text();
  if (Buffer.byteLength(text) > most) throw invalid("The body is too large.", undefined, 413);
  try {
    return JSON.parse(text);
  } catch {
    throw invalid("The body is not JSON.", undefined, 400);
  }
}

/** The methods that an address does not have, told as such (RFC 9110 section 15.5.6). */
export function otherMethods(...has: ("GET" | "POST" | "PATCH" | "DELETE")[]) {
  const allow = [...has, ...(has.includes("GET") ? ["HEAD"] : []), "OPTIONS"].join(", ");
  return apiRoute(() => {
    throw new Problem("no-method", `This address takes ${allow}.`, undefined, { allow });
  });
}

/** An address that the API does not have. */
export const nowhere = apiRoute(() => {
  throw notFound();
});
