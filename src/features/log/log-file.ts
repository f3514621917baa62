/** The log as a file: as it is asked for, piece by piece, so that no length of it stands in memory. */
import { Readable } from "node:stream";
import { BYTE_ORDER_MARK, csvLines } from "@/core/exchange/write-csv";
import { LOG_COLUMNS, logCells } from "@/data/log/as-file";
import { readLog } from "@/data/log/log";
import { earlierLog } from "@/data/log/thin";
import { officePortalOf } from "@/identity/requests/office-gate";
import { onMainHost } from "@/identity/requests/request";
import { askedOf, type LogSearch } from "./asked";

const PIECE = 1_000;

/** The log as CSV, as it is filtered in the query. 404 for whoever may not read it. */
export async function logFile(request: Request, slug: string): Promise<Response> {
  const p = (await onMainHost()) ? await officePortalOf(slug, "people") : undefined;
  if (!p) return notFound();
  const asked = askedOf(Object.fromEntries(new URL(request.url).searchParams) as LogSearch);
  let before: number | undefined;
  let begun = false;
  const encode = new TextEncoder();
  const stream = new ReadableStream<Uint8Array>({
    pull(to) {
      if (!begun) {
        begun = true;
        to.enqueue(encode.encode(BYTE_ORDER_MARK + csvLines([LOG_COLUMNS])));
        return;
      }
      const rows = readLog(p.file, p.owner, { ...asked, before, limit: PIECE });
      const last = rows.at(-1);
      if (!last) return to.close();
      before = last.id;
      to.enqueue(encode.encode(csvLines(rows.map(logCells))));
    },
  });
  return new Response(stream, {
    headers: {
      "content-type": "text/csv; charset=utf-8",
      "content-disposition": 'attachment; filename="what-happened.csv"',
      "cache-control": "private, no-store",
    },
  });
}

const notFound = (): Response => new Response("Not found\n", { status: 404, headers: { "content-type": "text/plain; charset=utf-8" } });

/** What is older than the portal keeps, as it was written out. */
export async function earlierLogFile(slug: string, name: string): Promise<Response> {
  const p = (await onMainHost()) ? await officePortalOf(slug, "people") : undefined;
  const found = p && (await earlierLog(p.file, p.owner, name));
  if (!found) return notFound();
  return new Response(Readable.toWeb(found.stream) as ReadableStream, {
    headers: {
      "content-type": "application/gzip",
      "content-length": String(found.bytes),
      "content-disposition": `attachment; filename="what-happened_${name}"`,
      "cache-control": "private, no-store",
    },
  });
}
