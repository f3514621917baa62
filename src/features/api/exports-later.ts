/**
 * Exports that are made while nobody waits for them: asked for with `Prefer: respond-async` (RFC 7240 section 4.1), and had for an hour. They are
 * of this process: after a restart they are asked for anew.
 */
import { randomUUID } from "node:crypto";
import { open, rm } from "node:fs/promises";
import { join } from "node:path";
import { Readable } from "node:stream";
import type { Table } from "@/core/schema/types";
import { dateIn } from "@/core/time/relative";
import { once } from "@/data/file/per-process";
import type { ListQuery } from "@/data/records/query/where";
import type { Format } from "./export-files";
import { exportFolder, exportTask } from "./export-task";
import { whoOf } from "./once";
import { notFound, Problem } from "./problem";
import { type ApiRequest, json } from "./route";
import type { ExportAnswer } from "./schemas";

const KEPT_MS = 3_600_000;
/** Exports that one person or key may have at a time. */
const MOST = 10;

interface Export {
  readonly portal: string;
  readonly who: string;
  /** With which rights: narrowed since, it is not theirs any more. */
  readonly rights: string;
  readonly path: string;
  readonly headers: Readonly<Record<string, string>>;
  readonly until: number;
  state: "running" | "done" | "failed";
  bytes: number | null;
}

const all = once("exports made for later", () => new Map<string, Export>());

const rightsOf = ({ viewer, published }: ApiRequest): string =>
  JSON.stringify([
    published.version,
    // Grants begin and end with a day.
    dateIn(viewer.now, viewer.timeZone),
    viewer.roles,
    [...viewer.features].sort(),
    viewer.company?.id,
    viewer.key?.within ?? null,
  ]);

/** RFC 7240 section 2: preferences stand with commas between, each with parameters of its own. */
export const prefersLater = (header: string | null): boolean =>
  (header ?? "").split(",").some((p) => p.split(";")[0]!.trim().toLowerCase() === "respond-async");

export function exportLater(r: ApiRequest, table: Table, query: ListQuery, format: Format, headers: Record<string, string>): Response {
  forget((x) => x.until <= r.viewer.now);
  const who = whoOf(r);
  const own = [...all.values()].filter((x) => x.portal === r.file.id && x.who === who).length;
  if (own >= MOST)
    throw new Problem("too-many", `You have ${MOST} exports already. Remove one, or wait an hour.`, undefined, { "retry-after": "3600" });
  const id = randomUUID();
  const path = join(exportFolder(), id);
  const made: Export = {
    portal: r.file.id,
    who,
    rights: rightsOf(r),
    path,
    headers,
    until: r.viewer.now + KEPT_MS,
    state: "running",
    bytes: null,
  };
  all.set(id, made);
  exportTask.do({ portal: r.slug, table: table.id, query, format, path }, r.viewer).then(
    (bytes) => Object.assign(made, { state: "done", bytes }),
    (e: unknown) => {
      console.error(e);
      made.state = "failed";
    },
  );
  return json(told(r, id, made), {
    status: 202,
    headers: { location: `${r.base}/api/v1/exports/${id}`, "preference-applied": "respond-async", "retry-after": "1" },
  });
}

const told = (r: ApiRequest, id: string, x: Export): ExportAnswer => ({
  id,
  state: x.state,
  bytes: x.bytes,
  until: new Date(x.until).toISOString(),
  file: x.state === "done" ? `${r.base}/api/v1/exports/${id}/file` : null,
});

/** One's own, with the rights that it was made with. */
function mine(r: ApiRequest): [string, Export] {
  forget((x) => x.until <= r.viewer.now);
  const id = r.params.export ?? "";
  const found = all.get(id);
  if (!found || found.portal !== r.file.id || found.who !== whoOf(r)) throw notFound();
  if (found.rights !== rightsOf(r)) {
    forget((x) => x === found);
    throw new Problem("gone", "What you may see has changed since this was made. Export it again.");
  }
  return [id, found];
}

/** GET how far an export is. 404 for whoever did not ask for it. */
export function getExportState(r: ApiRequest): Response {
  const [id, found] = mine(r);
  return json(told(r, id, found), found.state === "running" ? { headers: { "retry-after": "1" } } : {});
}

/** GET the file of an export that is done. 404 before that, and for whoever did not ask for it. */
export async function getExportFile(r: ApiRequest): Promise<Response> {
  const [, found] = mine(r);
  if (found.state !== "done") throw notFound();
  const file = await open(found.path);
  const body = Readable.toWeb(file.createReadStream()) as ReadableStream<Uint8Array>;
  return new Response(body, { headers: { ...found.headers, "content-length": String(found.bytes) } });
}

/** DELETE an export with its file. 404 for whoever did not ask for it. */
export function deleteExport(r: ApiRequest): Response {
  const [, found] = mine(r);
  forget((x) => x === found);
  return new Response(null, { status: 204 });
}

function forget(which: (x: Export) => boolean): void {
  for (const [id, x] of all)
    if (which(x)) {
      all.delete(id);
      void rm(x.path, { force: true }); // one that is still being written goes when the process begins anew
    }
}
