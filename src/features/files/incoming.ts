/**
 * Files coming in, in a portal and in the back office alike: whoever comes has a desk, and the desk decides. Pieces come by the core
 * protocol of tus 1.0.0 and its extensions for creation and termination (tus.io, "Resumable upload protocol 1.0.x").
 */
import { holdsFiles } from "@/core/schema/fields/natures";
import type { Field } from "@/core/schema/types";
import { MOST_FILE } from "@/data/files/store";
import { talkField, talkTableId } from "@/data/files/talk";
import { appendPiece, beginUpload, forget, type UploadError, uploadOf } from "@/data/files/uploads";
import type { Desk } from "@/data/records/desk";

const TUS = { "tus-resumable": "1.0.0", "cache-control": "no-store" };
const answer = (status: number, headers: Record<string, string> = {}, body: string | null = null): Response =>
  new Response(body, {
    status,
    headers: { ...TUS, ...(body === null ? {} : { "content-type": "text/plain; charset=utf-8" }), ...headers },
  });

const STATUS: Record<UploadError["code"], number> = { refused: 422, "not-found": 404, offset: 409, "too-much": 413 };
const WORDS: Record<Exclude<UploadError["code"], "refused">, string> = {
  "not-found": "There is no such upload.",
  offset: "The piece does not begin where the last one ended.",
  "too-much": "More came than was said. Choose the file again.",
};
const refused = (e: UploadError): Response => answer(STATUS[e.code], {}, e.code === "refused" ? e.message : WORDS[e.code]);

/** Fields of files that whoever is at the desk may fill in some record, or conversations in which they may write. */
export function takesFile(desk: Desk, id: string): Field | undefined {
  const talked = desk.schema.findTable(talkTableId(id) ?? "");
  if (talked) return desk.viewer.kind !== "visitor" && desk.acts(talked).some((a) => a.on === "talk") ? talkField(talked) : undefined;
  const field = desk.schema.findField(id);
  if (!field || !holdsFiles(field)) return undefined;
  const table = desk.schema.table(field.tableId);
  const may = (action: "add" | "change"): boolean => desk.may(table, action) && desk.settable(table, action).some((f) => f.id === id);
  return may("add") || may("change") ? field : undefined;
}

/** "filename d29y...,field Zl8x": keys, and values in base64 (tus, "Upload-Metadata"). */
function metadata(header: string): Record<string, string> {
  return Object.fromEntries(
    header.split(",").flatMap((pair) => {
      const [key = "", value = ""] = pair.trim().split(" ");
      return key ? [[key, Buffer.from(value, "base64").toString("utf8")]] : [];
    }),
  );
}

const whole = (text: string | null): number => (text !== null && /^\d{1,15}$/.test(text) ? Number(text) : Number.NaN);

/** `at` is where uploads stand: the new one's address is below it. */
export function create(desk: Desk, request: Request, at: string): Response {
  const said = metadata(request.headers.get("upload-metadata") ?? "");
  const field = takesFile(desk, said.field ?? "");
  if (!field) return refused({ code: "not-found" });
  const begun = beginUpload(desk.file, desk.viewer, field, {
    name: said.filename ?? "file",
    bytes: whole(request.headers.get("upload-length")),
  });
  return begun.ok ? answer(201, { location: `${at}/${begun.value.id}` }) : refused(begun.error);
}

export function about(desk: Desk, id: string): Response {
  const upload = uploadOf(desk.file, desk.viewer, id);
  if (!upload) return answer(404);
  return answer(200, { "upload-offset": String(upload.offset), "upload-length": String(upload.bytes) });
}

export async function append(desk: Desk, request: Request, id: string): Promise<Response> {
  if (request.headers.get("content-type") !== "application/offset+octet-stream")
    return answer(415, {}, "Pieces come as application/offset+octet-stream.");
  if (!request.body) return answer(400, {}, "The piece is empty.");
  const done = await appendPiece(
    desk.file,
    desk.viewer,
    (f) => takesFile(desk, f),
    id,
    whole(request.headers.get("upload-offset")),
    request.body,
  );
  return done.ok ? answer(204, { "upload-offset": String(done.value.offset) }) : refused(done.error);
}

export function drop(desk: Desk, id: string): Response {
  if (!uploadOf(desk.file, desk.viewer, id)) return answer(404);
  forget(desk.file, id);
  return answer(204);
}

export const protocol = (): Response =>
  answer(204, { "tus-version": "1.0.0", "tus-extension": "creation,termination", "tus-max-size": String(MOST_FILE) });
