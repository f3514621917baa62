/** A table at a web address: CSV, XLSX or JSON lines, as a spreadsheet publishes it or a program writes it. */
import { Readable } from "node:stream";
import { err, ok, type Result } from "@/core/result";
import { guardedStream } from "../outside/guarded";
import {
  later,
  MOST_IN_MEMORY,
  MOST_SOURCE_BYTES,
  never,
  SOURCE_WAITS,
  type SourceAdapter,
  type SourceSettings,
  type SourceTable,
  type SourceTrouble,
  Troubled,
} from "./contract";

const MOST_REDIRECTS = 5;
const REDIRECTS = new Set([301, 302, 303, 307, 308]);

/** Each step is looked at as the first was: a redirect leads inside no more than an address does. */
async function fetched(settings: SourceSettings): Promise<Result<SourceTable, SourceTrouble>> {
  const { address = "", user = "", password = "" } = settings;
  if (!URL.canParse(address) || !/^https?:$/.test(new URL(address).protocol))
    return err(never("Write the whole address, beginning with https://."));
  let url = new URL(address);
  const from = url.origin;
  try {
    for (let step = 0; step <= MOST_REDIRECTS; step++) {
      // What opens one server is not handed to another that it points to.
      const known: Record<string, string> =
        user && url.origin === from ? { authorization: `Basic ${Buffer.from(`${user}:${password}`).toString("base64")}` } : {};
      const headers = { accept: "text/csv, application/json, */*;q=0.5", ...known };
      const answer = await guardedStream(url, { headers }, { bytes: MOST_SOURCE_BYTES, waits: SOURCE_WAITS });
      if (REDIRECTS.has(answer.status) && answer.headers.location) {
        answer.body.destroy();
        const next = new URL(answer.headers.location, url);
        if (!/^https?:$/.test(next.protocol)) return err(never("The address leads on to something that is no web address."));
        url = next;
        continue;
      }
      if (answer.status !== 200) {
        answer.body.destroy();
        return err(troubleOf(answer.status, url.host, answer.headers["retry-after"]));
      }
      const name = lastOf(url.pathname);
      const json = /\bjson\b(?!l)/.test(answer.headers["content-type"] ?? "") || /\.json$/i.test(url.pathname);
      const body = json ? await jsonLines(answer.body) : answer.body;
      return ok({ fileName: name.slice(0, 100), body: Readable.toWeb(body) as ReadableStream<Uint8Array> });
    }
    return err(never("The address leads on and on, and to no table."));
  } catch (e) {
    return err(unreachable(e as Error, url.host));
  }
}

/** The last part of a path; as it stands where its % signs say nothing. */
function lastOf(path: string): string {
  const last = path.split("/").at(-1) || "table";
  try {
    return decodeURIComponent(last);
  } catch {
    return last;
  }
}

/** A list of objects, or an object that holds one, as JSON lines; whatever else it is, as it came: then the import says what is wrong. */
async function jsonLines(body: Readable): Promise<Readable> {
  let bytes = 0;
  const parts: Buffer[] = [];
  for await (const part of body as AsyncIterable<Buffer>) {
    bytes += part.length;
    if (bytes > MOST_IN_MEMORY) throw new Troubled(never("This JSON is larger than 50 MB. JSON lines may be larger."));
    parts.push(part);
  }
  const text = Buffer.concat(parts).toString("utf8");
  try {
    const parsed: unknown = JSON.parse(text);
    const list = [parsed, ...Object.values(parsed ?? {})].find((x) => Array.isArray(x));
    return Readable.from([Buffer.from(Array.isArray(list) ? list.map((x) => JSON.stringify(x)).join("\n") : text)]);
  } catch {
    return Readable.from([Buffer.from(text)]);
  }
}

export function troubleOf(status: number, host: string, after?: string): SourceTrouble {
  if (status === 401 || status === 403) return never(`${host} does not let us in (${status}). Look at the name and password.`);
  if (status === 404 || status === 410) return never(`${host} has nothing at this address (${status}).`);
  const seconds = Number(after);
  return later(`${host} answered ${status}.`, seconds > 0 ? Math.min(seconds, 86_400) * 1_000 : undefined);
}

export function unreachable(e: Error, host: string): SourceTrouble {
  if (e instanceof Troubled) return e.trouble;
  if (e.name === "LeadsInside") return never("This address leads into the installation's own network, where nothing is read.");
  if (e.name === "TimeoutError") return later(`${host} did not answer in time.`);
  return later(`${host} could not be reached (${(e as { code?: string }).code ?? "no connection"}).`);
}

export const addressSource: SourceAdapter = {
  name: "A table at a web address",
  about: "A file that stands at an address: CSV, a workbook (XLSX) or JSON lines.",
  fields: [
    { name: "address", label: "Address", hint: "Of the file itself, beginning with https://" },
    { name: "user", label: "Name", hint: "Where the address asks for one", optional: true },
    { name: "password", label: "Password", hint: "Where the address asks for one", secret: true, optional: true },
  ],
  objects: async (settings) => {
    const found = await fetched(settings);
    if (!found.ok) return found;
    await found.value.body.cancel();
    return ok([{ id: "table", name: found.value.fileName }]);
  },
  read: (settings) => fetched(settings),
};
