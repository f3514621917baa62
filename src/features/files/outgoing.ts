/** Files going out: looked at again at each request, whole or in part, as what their content is and never as anything that runs. */
import { Readable } from "node:stream";
import { PICTURE_SIZES, PICTURE_TYPES, type PictureSize } from "@/data/files/pictures";
import { type OpenFile, openFile } from "@/data/files/seen";
import { storeOf } from "@/data/files/store";
import type { Desk } from "@/data/records/desk";
import { openTalkFile, TALK } from "@/data/records/talk";

/** The same for what is not there, and for what is not theirs. */
const nothing = (): Response =>
  new Response("Not found\n", { status: 404, headers: { "content-type": "text/plain; charset=utf-8", "cache-control": "no-store" } });

/** `parts` are table, record, field and file by id, then a name that only reads well. */
export async function serve(desk: Desk, request: Request, parts: readonly string[]): Promise<Response> {
  const [tableId = "", record = "", field = "", id = ""] = parts;
  const table = desk.schema.findTable(tableId);
  const seen = table && desk.read(table, record);
  const asked = new URL(request.url).searchParams.get("size");
  const size = asked !== null && Object.hasOwn(PICTURE_SIZES, asked) ? (asked as PictureSize) : null;
  const found =
    table && seen && (field === TALK ? openTalkFile(desk, table, seen.id, id, size) : openFile(desk, table, seen, field, id, size));
  return found ? send(desk, request, found) : nothing();
}

async function send(desk: Desk, request: Request, f: OpenFile): Promise<Response> {
  const store = storeOf(desk.file);
  const bytes = await store.size(f.hash);
  if (bytes === undefined) return nothing();
  const etag = `"${f.hash}"`;
  const headers: Record<string, string> = {
    ...dressed(f),
    etag,
    "accept-ranges": "bytes",
    // Only the person's own browser may store it, and it asks each time: what they may see can change.
    "cache-control": "private, no-cache",
  };
  if (matches(request.headers.get("if-none-match"), etag)) return new Response(null, { status: 304, headers });
  const range = rangeOf(request, etag, bytes);
  if (range === "unsatisfiable") return new Response(null, { status: 416, headers: { ...headers, "content-range": `bytes */${bytes}` } });
  const [from, to] = range ?? [0, bytes - 1];
  const length = bytes === 0 ? 0 : to - from + 1;
  const whole = range === null;
  const all = { ...headers, "content-length": String(length), ...(whole ? {} : { "content-range": `bytes ${from}-${to}/${bytes}` }) };
  const status = whole ? 200 : 206;
  if (request.method === "HEAD" || length === 0) return new Response(null, { status, headers: all });
  const content = await store.open(f.hash, whole ? undefined : { from, to });
  return content ? new Response(Readable.toWeb(content) as ReadableStream, { status, headers: all }) : nothing();
}

const INLINE = new Set([...PICTURE_TYPES, "application/pdf"]);

/** A page of its own may only be shown of pictures and PDF; a PDF goes without the sandbox, in which Chromium shows none. */
function dressed({ name, type }: OpenFile): Record<string, string> {
  const inline = INLINE.has(type);
  const shown = inline ? type : type === "text/plain" ? "text/plain; charset=utf-8" : "application/octet-stream";
  return {
    "content-type": shown,
    "content-disposition": `${inline ? "inline" : "attachment"}; filename="${ascii(name)}"; filename*=UTF-8''${encoded(name)}`,
    "x-content-type-options": "nosniff",
    "content-security-policy": `default-src 'none'; img-src 'self'; style-src 'unsafe-inline'; frame-ancestors 'none'; base-uri 'none'; form-action 'none'${type === "application/pdf" ? "" : "; sandbox"}`,
  };
}
const ascii = (name: string): string => name.replace(/[^\x20-\x7e]|["\\]/g, "_");
/** RFC 8187 section 3.2.1. */
const encoded = (name: string): string =>
  encodeURIComponent(name).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`);

/** RFC 9110 section 13.1.2: compared weakly, for a GET. */
const matches = (header: string | null, etag: string): boolean =>
  header !== null && (header.trim() === "*" || header.split(",").some((t) => t.trim().replace(/^W\//, "") === etag));

/**
 * One range of bytes (RFC 9110 section 14.1.2); null for all of it. Several ranges, another unit and a broken header are passed over, as
 * section 14.2 allows; one that lies beyond the end is told so (section 15.5.17). If-Range (section 13.1.5) binds it to a state.
 */
export function rangeOf(request: Request, etag: string, bytes: number): [number, number] | "unsatisfiable" | null {
  const header = request.headers.get("range");
  const bound = request.headers.get("if-range");
  if (request.method !== "GET" || header === null || (bound !== null && bound !== etag)) return null;
  const parts = /^bytes=\s*(?:(\d{1,15})-(\d{0,15})|-(\d{1,15}))\s*$/i.exec(header);
  if (!parts) return null;
  const [, first, last, suffix] = parts;
  if (suffix !== undefined) {
    const n = Number(suffix);
    return n === 0 || bytes === 0 ? "unsatisfiable" : [Math.max(0, bytes - n), bytes - 1];
  }
  const from = Number(first);
  const to = last ? Number(last) : bytes - 1;
  if (to < from && last) return null;
  return from >= bytes ? "unsatisfiable" : [from, Math.min(to, bytes - 1)];
}
