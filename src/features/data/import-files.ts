/** What goes in and out of an import as a file. */
import { MOST_BYTES, PROBLEM_COLUMNS } from "@/core/exchange/import-plan";
import { BYTE_ORDER_MARK, csvLines } from "@/core/exchange/write-csv";
import { portalFile } from "@/data/file/open";
import { whenFree } from "@/data/file/when-free";
import { type ArchiveError, appendFiles, beginFiles, comingFiles } from "@/data/imports/archives";
import { badRows } from "@/data/imports/checking/stage";
import { beginImport, importJob } from "@/data/imports/jobs";
import { onMainHost, requestOffice, sameOrigin } from "@/identity/requests/request";

const told = (status: number, message: string): Response => Response.json({ message }, { status });

/** A name whose encoding is broken is a name all the same. */
function decoded(name: string): string {
  try {
    return decodeURIComponent(name);
  } catch {
    return name;
  }
}

/** Takes the dropped file in as a stream: 50 MB do not pass through memory. */
export async function receiveUpload(request: Request, slug: string): Promise<Response> {
  const office = (await onMainHost()) ? await requestOffice("build") : undefined;
  const file = portalFile(slug);
  if (!office || !file || !(await sameOrigin())) return told(401, "Sign in to the back office first.");
  await whenFree(file);
  if (Number(request.headers.get("content-length") ?? 0) > MOST_BYTES)
    return told(413, "The file is larger than 50 MB. Split it and import the parts one after the other.");
  if (!request.body) return told(422, "The file is empty.");
  const name = decoded(request.headers.get("x-file-name") ?? "file.csv");
  const begun = await beginImport(file, office.owner, name, request.body);
  return begun.ok ? Response.json(begun.value) : told(422, begun.error);
}

const TUS = { "tus-resumable": "1.0.0", "cache-control": "no-store" };
const piece = (status: number, headers: Record<string, string> = {}, words: string | null = null): Response =>
  new Response(words, { status, headers: { ...TUS, ...(words ? { "content-type": "text/plain; charset=utf-8" } : {}), ...headers } });

function refusedFiles(e: ArchiveError): Response {
  if (e.code === "refused") return piece(422, {}, e.message);
  return e.code === "offset"
    ? piece(409, {}, "The piece does not begin where the last one ended.")
    : piece(404, {}, "This import is over, or gone.");
}

const whole = (text: string | null): number => (text !== null && /^\d{1,15}$/.test(text) ? Number(text) : Number.NaN);

/** The ZIP of files beside the table comes in pieces (tus 1.0.0, as in `features/files/incoming`), from the owner's own page alone. */
export async function archiveUpload(request: Request, slug: string, id: string): Promise<Response> {
  const office = (await onMainHost()) ? await requestOffice("build") : undefined;
  const file = portalFile(slug);
  if (!office || !file || (request.method !== "HEAD" && !(await sameOrigin()))) return piece(401, {}, "Sign in to the back office first.");
  await whenFree(file);
  if (request.method === "HEAD") {
    const coming = comingFiles(file, office.owner, id);
    return coming ? piece(200, { "upload-offset": String(coming.offset), "upload-length": String(coming.bytes) }) : piece(404);
  }
  if (request.method === "POST") {
    const named = /(?:^|,)\s*filename ([A-Za-z0-9+/=]*)/.exec(request.headers.get("upload-metadata") ?? "")?.[1] ?? "";
    const name = Buffer.from(named, "base64").toString("utf8") || "files.zip";
    const begun = beginFiles(file, office.owner, id, { name, bytes: whole(request.headers.get("upload-length")) });
    return begun.ok ? piece(201, { location: new URL(request.url).pathname }) : refusedFiles(begun.error);
  }
  if (!request.body) return piece(400, {}, "The piece is empty.");
  const done = await appendFiles(file, office.owner, id, whole(request.headers.get("upload-offset")), request.body);
  return done.ok ? piece(204, { "upload-offset": String(done.value.offset) }) : refusedFiles(done.error);
}

/** The rows that an import would leave out, each with its reason. */
export async function problemRows(slug: string, id: string): Promise<Response> {
  const office = await requestOffice("build");
  const file = portalFile(slug);
  const job = office && file ? importJob(file, office.owner, id) : undefined;
  if (!job?.result) return new Response("Not found", { status: 404 });
  const rows = [...badRows(id)].map((x) => [x.line, x.column, x.reason, ...x.cells]);
  return new Response(BYTE_ORDER_MARK + csvLines([[...PROBLEM_COLUMNS, ...job.analysis.header], ...rows]), {
    headers: {
      "content-type": "text/csv; charset=utf-8",
      "content-disposition": 'attachment; filename="rows-with-problems.csv"',
      "cache-control": "private, no-store",
    },
  });
}
