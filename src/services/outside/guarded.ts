/**
 * The one client for every address that a person types (issuers, domains, and what comes): it reaches nothing of the installation's own
 * network, by name or by number, unless the operator listed the host. Looked at when it is connected to, so that a name cannot lead elsewhere
 * a moment later; redirects are not followed.
 */
import { promises as dns } from "node:dns";
import * as http from "node:http";
import * as https from "node:https";
import { isIP, type LookupFunction } from "node:net";
import { pipeline, type Readable, Transform } from "node:stream";
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

interface Sent {
  readonly answer: http.IncomingMessage;
  readonly url: URL;
  readonly signal: AbortSignal;
}

/** Sent to an address outside, and answered. @throws LeadsInside; an Error whose name is TimeoutError where no answer comes in time. */
async function send(input: string | URL, init: RequestInit, waits: number, longest = waits): Promise<Sent> {
  const url = new URL(input);
  const listed = isListed(url);
  const host = url.hostname.replace(/^\[|\]$/g, "");
  if (!listed && ((isIP(host) && isNear(host)) || isLocal(host))) throw new LeadsInside(url.host);
  const { request } = url.protocol === "https:" ? https : http;
  const body = init.body === undefined || init.body === null ? null : Buffer.from(await new Response(init.body).arrayBuffer());
  const headers: Record<string, string> = Object.fromEntries(new Headers(init.headers));
  if (init.body instanceof URLSearchParams) headers["content-type"] ??= "application/x-www-form-urlencoded;charset=UTF-8";
  if (body) headers["content-length"] = String(body.length);
  const signal = AbortSignal.any([AbortSignal.timeout(longest), ...(init.signal ? [init.signal] : [])]);
  const options = { method: init.method ?? "GET", headers, signal, lookup: listed ? (isLocal(host) ? here : undefined) : lookup };
  return new Promise((done, fail) => {
    const sent = request(url, options as http.RequestOptions, (answer) => done({ answer, url, signal }));
    const late = setTimeout(() => sent.destroy(timedOut()), waits);
    sent.on("response", () => clearTimeout(late));
    sent.on("error", (e) => {
      clearTimeout(late);
      fail(signal.aborted ? timedOut() : e);
    });
    sent.end(body ?? undefined);
  });
}

const timedOut = (): Error => Object.assign(new Error("No answer came in time."), { name: "TimeoutError" });
const tooMuch = (url: URL, most: number): Error => new Error(`${url.host} answers more than ${most} bytes.`);

/** As `fetch`, for http and https. @throws LeadsInside; an Error whose name is TimeoutError where no answer comes in time. */
export async function guardedFetch(input: string | URL, init: RequestInit = {}, limits: Limits = {}): Promise<Response> {
  const { bytes: most = MOST, cut = false, waits = WAITS } = limits;
  const { answer, url, signal } = await send(input, init, waits);
  return new Promise((done, fail) => {
    const parts: Buffer[] = [];
    let size = 0;
    const answered = (): void => {
      const status = answer.statusCode ?? 502;
      const empty = status === 204 || status === 304;
      const said = Object.entries(answer.headers).flatMap(([k, v]) => [v ?? []].flat().map((x): [string, string] => [k, x]));
      done(new Response(empty ? null : Buffer.concat(parts), { status, headers: said }));
    };
    answer.on("data", (part: Buffer) => {
      size += part.length;
      if (size > most && cut) {
        parts.push(part.subarray(0, Math.max(0, part.length - (size - most))));
        answered();
        answer.destroy();
      } else if (size > most) answer.destroy(tooMuch(url, most));
      else parts.push(part);
    });
    answer.on("error", (e) => fail(signal.aborted ? timedOut() : e));
    answer.on("end", answered);
  });
}

/** Bytes a second below which a body drips, once it has had its time. */
const SLOWEST = 1_000;
const LONGEST = 3_600_000;

/**
 * The same, read as it comes: the body ends with an error where it is longer than `bytes`, or where nothing or next to nothing comes for
 * `waits`. A large one may take an hour.
 */
export async function guardedStream(
  input: string | URL,
  init: RequestInit,
  { bytes, waits }: { readonly bytes: number; readonly waits: number },
): Promise<{ status: number; headers: http.IncomingHttpHeaders; body: Readable }> {
  const { answer, url } = await send(input, init, waits, LONGEST);
  let size = 0;
  const began = performance.now();
  answer.setTimeout(waits, () => answer.destroy(timedOut()));
  const meter = new Transform({
    transform(part: Buffer, _, done) {
      size += part.length;
      const ms = performance.now() - began;
      const drips = ms > waits && size / (ms / 1_000) < SLOWEST;
      done(size > bytes ? tooMuch(url, bytes) : drips ? timedOut() : null, part);
    },
  });
  pipeline(answer, meter, () => {}); // what goes wrong is told to whoever reads the meter
  return { status: answer.statusCode ?? 502, headers: answer.headers, body: meter };
}

/** The number to connect to for something that is no web address, such as a database. @throws LeadsInside where there is none outside. */
export async function guardedAddress(host: string, port: number): Promise<string> {
  if (config().inside.some((x) => x === host || x === `${host}:${port}`)) return isLocal(host) ? "127.0.0.1" : host;
  if (isIP(host)) {
    if (isNear(host)) throw new LeadsInside(host);
    return host;
  }
  if (isLocal(host)) throw new LeadsInside(host);
  const far = (await dns.lookup(host, { all: true })).find((a) => !isNear(a.address));
  if (!far) throw new LeadsInside(host);
  return far.address;
}
