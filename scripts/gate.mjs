// What is decided about a request before Next reads any of it: headers that every answer carries, and requests that can only be wrong.

const PLAIN = { "content-type": "text/plain; charset=utf-8" };
const PROBLEM = { "content-type": "application/problem+json" };
/** As much as a form or an API call may bring, and a file of an import (its route says so in a sentence of its own above 50 MB). */
const MOST_BODY = 2 * 1024 * 1024;
const MOST_UPLOAD = 56 * 1024 * 1024;
const UPLOAD = /^\/portals\/[^/]+\/data\/import\/upload$/;
/** A piece of a file, and room for one that a client cut a little larger. */
const MOST_PIECE = 5 * 1024 * 1024;
const PIECE = /^(?:(?:\/portals\/[^/]+|\/p\/[^/]+)?\/-\/uploads\/[^/]+|\/portals\/[^/]+\/data\/import\/[^/]+\/files)$/;
/** A thousand writes together (src/features/api/writes.ts measures them once more). */
const MOST_BULK = 10 * 1024 * 1024;
/** A file sent as one body: as large as what is handed on may be. Larger ones come in pieces. */
const FILE = /^\/(?:p\/[^/]+\/)?api\/v1\/files$/;
const BULK = /^\/(?:p\/[^/]+\/)?api\/v1\/tables\/[^/]+\/bulk$/;
const LINGER_BYTES = 64 * 1024 * 1024;
const LINGER_MS = 2_000;
const METHODS = ["GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS"];

/** Next's notes to itself: where a request was led to inside, and with what query. */
const INNER = new Set(["x-middleware-rewrite", "x-nextjs-rewritten-query"]);

const FEATURES = [
  "accelerometer",
  "browsing-topics",
  "camera",
  "display-capture",
  "geolocation",
  "gyroscope",
  "magnetometer",
  "microphone",
  "midi",
  "payment",
  "usb",
];

/**
 * Of what says nothing else: pages have a content policy with their nonce (src/proxy.ts), files one with a sandbox
 * (src/features/files/outgoing.ts). Next lets a route's header give way to one that stands there already, so these are set last.
 */
const OTHERWISE = {
  "content-security-policy": "default-src 'none'; frame-ancestors 'none'; base-uri 'none'; form-action 'none'",
  "x-content-type-options": "nosniff",
  // Not "no-referrer": a form would then say "null" for its origin, and writes are taken from this very origin alone.
  "referrer-policy": "same-origin",
  "permissions-policy": FEATURES.map((f) => `${f}=()`).join(", "),
  "cross-origin-opener-policy": "same-origin",
  "cross-origin-resource-policy": "same-origin",
};
const HSTS = "max-age=63072000; includeSubDomains"; // RFC 6797

/** Headers of every answer, whoever gives it. */
export function dress(response, { secure }) {
  const set = response.setHeader.bind(response);
  response.setHeader = (name, value) => (INNER.has(name.toLowerCase()) ? response : set(name, value));
  const begin = response.writeHead.bind(response);
  response.writeHead = (...head) => {
    for (const [name, value] of Object.entries(OTHERWISE)) if (!response.hasHeader(name)) set(name, value);
    return begin(...head);
  };
  if (secure) set("strict-transport-security", HSTS);
}

/**
 * Why a request cannot be answered, or null. Its target is put into the form that everything below expects: RFC 9112 section 3.2.2 has a
 * server take the absolute form, and its host before the Host header. With `key` this process asks itself: Next hands an action on to the
 * page that has it, in pieces; what it hands on was measured when it came.
 */
export function wrong(request, { key }) {
  if (/^https?:\/\//i.test(request.url)) {
    if (!URL.canParse(request.url)) return [400, "The address is not one."];
    const { host, pathname, search } = new URL(request.url);
    request.headers.host = host;
    request.url = pathname + search;
  }
  if (!METHODS.includes(request.method)) return [405, `The method ${request.method} is not known here.`];
  if (!request.url.startsWith("/")) return [400, "The address is not one."];
  const [path] = request.url.split("?", 1);
  if (!decodes(path)) return [400, "The address has a % that no two hexadecimal digits follow, or that stands for no character."];
  return request.headers["x-elkhorn-key"] === key ? null : tooMuch(request, path);
}

function decodes(path) {
  try {
    return !decodeURIComponent(path).includes("\0");
  } catch {
    return false;
  }
}

function tooMuch({ method, headers }, path) {
  // RFC 9110 section 15.5.12: whoever sends a body says how long it is, so that it can be refused before it is read.
  if (headers["transfer-encoding"]) return [411, "Say how long the body is (Content-Length)."];
  const most = mostOf(method, path);
  return Number(headers["content-length"] ?? 0) > most ? [413, `The body is larger than ${most / 1024 / 1024} MB.`] : null;
}

function mostOf(method, path) {
  if (method === "PATCH") return PIECE.test(path) ? MOST_PIECE : MOST_BODY;
  if (method !== "POST") return MOST_BODY;
  return UPLOAD.test(path) || FILE.test(path) ? MOST_UPLOAD : BULK.test(path) ? MOST_BULK : MOST_BODY;
}

export function refuse(request, response, [status, detail]) {
  const api = /^\/(?:p\/[^/]+\/)?api\//.test(request.url);
  const TITLES = { 400: "Bad request", 405: "Method not allowed", 411: "Length required", 413: "Content too large" };
  if (status === 405) response.setHeader("allow", METHODS.join(", "));
  const text = api ? JSON.stringify({ type: "about:blank", title: TITLES[status], status, detail }) : `${detail}\n`;
  // What is not read of the body must not be taken for the next request.
  const closing = { connection: "close", "cache-control": "no-store", "content-length": Buffer.byteLength(text) };
  response.writeHead(status, { ...(api ? PROBLEM : PLAIN), ...closing });
  if (request.method !== "HEAD") response.write(text);
  lingerThenEnd(request, response);
}

/**
 * RFC 9112 section 9.6: closed while the body still comes, the connection would be reset, and the sender might never see the answer. What comes
 * is thrown away until it ends, has had its time, or is more than anybody sends by mistake.
 */
function lingerThenEnd(request, response) {
  const end = () => {
    clearTimeout(late);
    request.off("data", count);
    response.end();
  };
  let left = LINGER_BYTES;
  const count = (part) => {
    left -= part.length;
    if (left < 0) end();
  };
  const late = setTimeout(end, LINGER_MS);
  if (request.complete) return end();
  request.on("data", count).once("end", end).once("close", end).once("error", end);
}

/**
 * A form of a page is read here first, as it is small: Next answers one that breaks off or is no multipart with a failure of its own.
 * What was read is put back for Next to read again.
 */
export async function brokenForm(request) {
  const type = request.headers["content-type"] ?? "";
  if (request.method !== "POST" || !/^multipart\/form-data/i.test(type)) return null;
  const body = await peek(request, Number(request.headers["content-length"] ?? 0));
  if (!body) return [400, "The body is shorter than was said."];
  try {
    await new Response(body, { headers: { "content-type": type } }).formData();
    return null;
  } catch {
    return [400, "The body is no form (multipart/form-data, RFC 7578)."];
  }
}

/** The body's `length` bytes, which stay to be read again; null where the sender stops before. */
function peek(request, length) {
  return new Promise((done) => {
    const parts = [];
    let have = 0;
    const take = () => {
      for (let part; have < length && (part = request.read()) !== null; have += part.length) parts.push(part);
      if (have < length) return;
      const body = Buffer.concat(parts);
      // At once: a stream that is empty for a moment after its last byte ends.
      if (length > 0) request.unshift(body);
      end(body);
    };
    const broken = () => end(null);
    const end = (body) => {
      request.off("readable", take).off("close", broken).off("error", broken);
      done(body);
    };
    request.on("readable", take).on("close", broken).on("error", broken);
    take();
  });
}
