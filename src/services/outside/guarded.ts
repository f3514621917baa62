/**
 * The one client for every address that a person types (issuers, domains, and what comes): it reaches nothing of the installation's own
 * network, by name or by number, unless the operator listed the host. Looked at when it is connected to, so that a name cannot lead elsewhere
 * a moment later; redirects are not followed.
 */
import { promises as dns } from "node:dns";
import * as http from "node:http";
import * as https from "node:https";
import { isIP, type LookupFunction } from "node:net";
import { config } from "@/config";
import { isNear } from "./near";

/** Bytes of an answer, and milliseconds for all of it. */
const MOST = 1024 * 1024;
const WAITS = 8_000;

export class LeadsInside extends Error {
  override name = "LeadsInside";
  constructor(host: string) {
    super(`${host} leads to no address outside of this installation's own network.`);
  }
}

/** Hosts inside that the operator listed (ELKHORN_INSIDE): "localhost:3001", or a host for all of its ports. */
const isListed = (url: URL): boolean => config().inside.some((x) => x === url.host || x === url.hostname);

/** Only the first address that is outside is connected to. */
const lookup: LookupFunction = (host, options, done) => {
  dns.lookup(host, { all: true }).then(
    (all) => {
      const far = all.find((a) => !isNear(a.address));
      if (!far) done(new LeadsInside(host), "", 4);
      else if (options.all) done(null, [far]);
      else done(null, far.address, far.family);
    },
    (e: NodeJS.ErrnoException) => done(e, "", 4),
  );
};

/** Of names under `localhost` not every resolver knows that they are this machine (RFC 6761 section 6.3). */
const here: LookupFunction = (_, options, done) => {
  if (options.all) done(null, [{ address: "127.0.0.1", family: 4 }]);
  else done(null, "127.0.0.1", 4);
};
const isLocal = (host: string): boolean => host === "localhost" || host.endsWith(".localhost");

/** Whether an address leads inside, as far as can be told now; when it is connected to it is looked at again. */
export async function leadsInside(address: string): Promise<boolean> {
  if (!URL.canParse(address)) return true;
  const url = new URL(address);
  if (isListed(url)) return false;
  const host = url.hostname.replace(/^\[|\]$/g, "");
  if (isIP(host)) return isNear(host);
  if (isLocal(host)) return true;
  // A name that leads nowhere today leads inside of nothing.
  const all = await dns.lookup(host, { all: true }).catch(() => []);
  return all.length > 0 && all.every((a) => isNear(a.address));
}

interface Limits {
  /** Bytes of an answer; more than these are an error, or are left out where `cut` is set. */
  readonly bytes?: number;
  readonly cut?: boolean;
  /** Milliseconds for all of it. */
  readonly waits?: number;
}

/** As `fetch`, for http and https. @throws LeadsInside; an Error whose name is TimeoutError where no answer comes in time. */
export async function guardedFetch(input: string | URL, init: RequestInit = {}, limits: Limits = {}): Promise<Response> {
  const { bytes: most = MOST, cut = false, waits = WAITS } = limits;
  const url = new URL(input);
  const listed = isListed(url);
  const host = url.hostname.replace(/^\[|\]$/g, "");
  if (!listed && ((isIP(host) && isNear(host)) || isLocal(host))) throw new LeadsInside(url.host);
  const { request } = url.protocol === "https:" ? https : http;
  const body = init.body === undefined || init.body === null ? null : Buffer.from(await new Response(init.body).arrayBuffer());
  const headers: Record<string, string> = Object.fromEntries(new Headers(init.headers));
  if (init.body instanceof URLSearchParams) headers["content-type"] ??= "application/x-www-form-urlencoded;charset=UTF-8";
  if (body) headers["content-length"] = String(body.length);
  const signal = AbortSignal.any([AbortSignal.timeout(waits), ...(init.signal ? [init.signal] : [])]);
  const options = { method: init.method ?? "GET", headers, signal, lookup: listed ? (isLocal(host) ? here : undefined) : lookup };
  return new Promise((done, fail) => {
    const sent = request(url, options as http.RequestOptions, (answer) => {
      const parts: Buffer[] = [];
      let size = 0;
      answer.on("data", (part: Buffer) => {
        size += part.length;
        if (size > most && cut) {
          parts.push(part.subarray(0, Math.max(0, part.length - (size - most))));
          answered();
          answer.destroy();
        } else if (size > most) answer.destroy(new Error(`${url.host} answers more than ${most} bytes.`));
        else parts.push(part);
      });
      answer.on("error", fail);
      const answered = (): void => {
        const status = answer.statusCode ?? 502;
        const empty = status === 204 || status === 304;
        const said = Object.entries(answer.headers).flatMap(([k, v]) => [v ?? []].flat().map((x): [string, string] => [k, x]));
        done(new Response(empty ? null : Buffer.concat(parts), { status, headers: said }));
      };
      answer.on("end", answered);
    });
    sent.on("error", (e) => fail(signal.aborted ? Object.assign(new Error("No answer came in time."), { name: "TimeoutError" }) : e));
    sent.end(body ?? undefined);
  });
}
