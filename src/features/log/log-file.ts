/** The log as a file: as it is asked for, piece by piece, so that no length of it stands in memory. */
import { BYTE_ORDER_MARK, csvLines } from "@/core/exchange/write-csv";
import { readLog } from "@/data/log/log";
import { officePortalOf } from "@/identity/requests/office-gate";
import { onMainHost } from "@/identity/requests/request";
import { askedOf, type LogSearch } from "./asked";

const PIECE = 1_000;
const HEAD = ["When (UTC)", "Who", "By", "Act", "Table", "Record", "Company", "Detail", "Changes"];

export async function logFile(request: Request, slug: string): Promise<Response> {
  const p = (await onMainHost()) ? await officePortalOf(slug, "people") : undefined;
  if (!p) return new Response("Not found\n", { status: 404, headers: { "content-type": "text/plain; charset=utf-8" } });
  const asked = askedOf(Object.fromEntries(new URL(request.url).searchParams) as LogSearch);
  let before: number | undefined;
  let begun = false;
  const encode = new TextEncoder();
  const stream = new ReadableStream<Uint8Array>({
    pull(to) {
      if (!begun) {
        begun = true;
        to.enqueue(encode.encode(BYTE_ORDER_MARK + csvLines([HEAD])));
        return;
      }
      const rows = readLog(p.file, p.owner, { ...asked, before, limit: PIECE });
      const last = rows.at(-1);
      if (!last) return to.close();
      before = last.id;
      const lines = rows.map((r) => [
        new Date(r.at).toISOString(),
        r.who,
        r.via,
        r.says,
        r.table?.name ?? "",
        r.record?.name ?? "",
        r.company?.name ?? "",
        r.detail ?? "",
        r.changes.map((c) => `${c.field}: ${c.before} → ${c.after}`).join("; "),
      ]);
      to.enqueue(encode.encode(csvLines(lines)));
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
