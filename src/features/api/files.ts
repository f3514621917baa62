/** Files of records, up and down. What is sent waits for a record to take it, and is its sender's alone until then. */
import { holdsFiles } from "@/core/schema/fields/natures";
import type { Field } from "@/core/schema/types";
import { appendPiece, beginUpload, forget, type UploadError, uploadOf } from "@/data/files/uploads";
import type { Desk } from "@/data/records/desk";
import { invalid, notFound, Problem } from "./problem";
import { type ApiRequest, json } from "./route";

/** How the room of files decides and answers; the address puts the two together. */
type TakesFile = (desk: Desk, field: string) => Field | undefined;
type Serve = (desk: Desk, request: Request, parts: readonly string[]) => Promise<Response>;

function refusedAs(e: UploadError): Problem {
  if (e.code === "not-found") return notFound();
  if (e.code === "too-much") return invalid("More came than Content-Length said.", undefined, 400);
  return invalid(e.code === "refused" ? e.message : "The file did not come whole. Send it again.");
}

/** The whole file as the body: `?table=signs&field=photo&name=front.png`. Its id then goes into a record's field. */
export const postFile =
  (takesFile: TakesFile) =>
  async (r: ApiRequest): Promise<Response> => {
    const table = r.desk.schema.tableBySlug(r.query.get("table") ?? "");
    const field = table?.fields.find((f) => f.slug === r.query.get("field"));
    if (!field || !holdsFiles(field) || !takesFile(r.desk, field.id)) throw notFound();
    const length = r.request.headers.get("content-length");
    if (length === null || !/^\d{1,15}$/.test(length)) throw new Problem("length-needed", "Say how long the file is: Content-Length.");
    if (!r.request.body) throw invalid("The file is empty.");
    const begun = beginUpload(r.file, r.viewer, field, { name: r.query.get("name") ?? "file", bytes: Number(length) });
    if (!begun.ok) throw refusedAs(begun.error);
    const { id } = begun.value;
    // It comes whole or not at all: what a broken line left is forgotten.
    const done = await appendPiece(r.file, r.viewer, (f) => takesFile(r.desk, f), id, 0, r.request.body).catch((e: unknown) => {
      forget(r.file, id);
      throw e;
    });
    const came = done.ok ? uploadOf(r.file, r.viewer, id) : undefined;
    if (!done.ok || !came?.whole) {
      if (uploadOf(r.file, r.viewer, id)) forget(r.file, id);
      throw refusedAs(done.ok ? { code: "offset" } : done.error);
    }
    return json({ id, bytes: came.bytes }, { status: 201 });
  };

/** At `href` of a record's file, with `/api/v1` in place of `/-`. Ranges and validators as on the portal's own pages. */
export const getFile =
  (serve: Serve) =>
  async (r: ApiRequest): Promise<Response> => {
    const parts = new URL(r.request.url).pathname.split("/api/v1/files/")[1]?.split("/") ?? [];
    const answer = await serve(r.desk, r.request, parts);
    if (answer.status === 404) throw notFound();
    return answer;
  };
