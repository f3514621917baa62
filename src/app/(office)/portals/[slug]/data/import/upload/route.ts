/** Takes the dropped file in as a stream: 50 MB do not pass through memory. */

import { MOST_BYTES } from "@/core/exchange/import-plan";
import { portalFile } from "@/data/file/open";
import { beginImport } from "@/data/imports/jobs";
import { requestOffice, sameOrigin } from "@/identity/request";

export async function POST(request: Request, { params }: { params: Promise<{ slug: string }> }): Promise<Response> {
  const office = await requestOffice();
  const file = portalFile((await params).slug);
  if (!office || !file || !(await sameOrigin())) return Response.json({ message: "Sign in to the back office first." }, { status: 401 });
  if (Number(request.headers.get("content-length") ?? 0) > MOST_BYTES) {
    return Response.json({ message: "The file is larger than 50 MB. Split it and import the parts one after the other." }, { status: 413 });
  }
  if (!request.body) return Response.json({ message: "The file is empty." }, { status: 422 });
  const name = decodeURIComponent(request.headers.get("x-file-name") ?? "file.csv");
  const begun = await beginImport(file, office.owner, name, request.body);
  return begun.ok ? Response.json(begun.value) : Response.json({ message: begun.error }, { status: 422 });
}
