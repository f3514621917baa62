/** For tests of files: signs with photographs and papers, files that are sent, and what somebody is given of them. */
import sharp from "sharp";
import { published, storePublished } from "@/data/definition/published";
import { appendPiece, beginUpload } from "@/data/files/uploads";
import type { Desk } from "@/data/records/desk";
import { addField } from "@/data/tables/change";
import { schemaOf } from "@/data/tables/read";
import { serve } from "@/features/files/outgoing";
import { type TestPortal, testPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";

export const PDF = Buffer.from("%PDF-1.7\n1 0 obj\n<<>>\nendobj\ntrailer\n<<>>\n%%EOF\n");

/** Signs with photographs and papers; leads see all of their company's, onlookers the papers' names alone. */
export function filed(): { p: TestPortal; photos: string; papers: string } {
  const p = testPortal({ grants: [] });
  const signs = p.table("signs").id;
  const photos = addField(p.file, signs, { slug: "photos", name: "Photos", type: "pictures" });
  const papers = addField(p.file, signs, { slug: "papers", name: "Papers", type: "files" });
  const d = structuredClone(published(p.file).definition);
  const code = p.field("signs", "code");
  const project = p.field("signs", "project");
  const grant = (id: string, role: string, more: object) => ({
    id,
    roles: [role],
    table: signs,
    actions: ["see"],
    filter: null,
    fields: [],
    changes: [],
    ...more,
  });
  d.roles.push(...["writer", "onlooker"].map((id) => ({ id, name: id, side: "client" as const, includes: [] })));
  d.grants.push(
    grant("g1", "writer", {
      actions: ["see", "add", "change"],
      fields: [code, project, photos, papers],
      changes: [code, project, photos, papers],
    }) as never,
    grant("g2", "onlooker", { fields: [code, papers], namesOnly: [papers] }) as never,
    { ...grant("g3", "writer", {}), table: p.table("projects").id, fields: [p.field("projects", "title")] } as never,
  );
  storePublished(p.file, d, PUBLISHER);
  return { p, photos, papers };
}
export const stream = (b: Uint8Array) => new Blob([new Uint8Array(b)]).stream();

/** Sends a file in pieces of so many bytes. Its id. */
export async function up(d: Desk, field: string, name: string, content: Buffer, cut = content.length): Promise<string> {
  const f = schemaOf(d.file).field(field);
  const begun = beginUpload(d.file, d.viewer, f, { name, bytes: content.length });
  if (!begun.ok) throw new Error(JSON.stringify(begun.error));
  for (let at = 0; at < content.length; at += cut) {
    const done = await appendPiece(d.file, d.viewer, () => f, begun.value.id, at, stream(content.subarray(at, at + cut)));
    if (!done.ok) throw new Error("message" in done.error ? done.error.message : done.error.code);
  }
  return begun.value.id;
}
export const table = (d: Desk) => d.schema.tableBySlug("signs")!;
export const png = (width: number, height: number) =>
  sharp({ create: { width, height, channels: 3, background: "#2f5d50" } })
    .png()
    .toBuffer();
export async function get(d: Desk, at: string, headers: Record<string, string> = {}, method = "GET") {
  const [path, query] = at.split("?");
  const r = await serve(
    d,
    new Request(`http://x.example${at}`, { headers, method }),
    path!.replace("/-/files/", "").split("/").map(decodeURIComponent),
  );
  return { status: r.status, body: Buffer.from(await r.arrayBuffer()), headers: r.headers, query };
}
