/** The demo's files come in as anybody's do; what many records have alike is sent once and stands beside each of them. */
import { eq } from "drizzle-orm";
import type { Viewer } from "@/core/access/who/viewer";
import type { Field } from "@/core/schema/types";
import { newId } from "@/data/file/ids";
import type { PortalFile } from "@/data/file/open";
import { files } from "@/data/file/portal-tables";
import { appendPiece, beginUpload, forget, named } from "@/data/files/uploads";
import { drawing, SIGN_MATERIALS, SIGN_TYPES, signPicture } from "./drawings";

export interface Shelf {
  /** A file of this content for a record: its id. */
  take(field: Field, record: string, content: string, name: string): string;
  /** What was only sent to be taken from is put away. */
  close(): void;
}

export const PAPERS = ["Drawing", "Survey", "Warranty", "Report"];

export async function fillShelf(file: PortalFile, viewer: Viewer, picture: Field, paper: Field): Promise<Shelf> {
  const sent = new Map<string, string>();
  const send = async (field: Field, content: string, name: string, body: Buffer): Promise<void> => {
    const begun = beginUpload(file, viewer, field, { name, bytes: body.length });
    if (!begun.ok) throw new Error(JSON.stringify(begun.error));
    const piece = new Blob([new Uint8Array(body)]).stream();
    const done = await appendPiece(file, viewer, () => field, begun.value.id, 0, piece);
    if (!done.ok) throw new Error(JSON.stringify(done.error));
    sent.set(content, begun.value.id);
  };
  const pictures = SIGN_TYPES.flatMap((type) => SIGN_MATERIALS.map((material) => ({ type, material })));
  await Promise.all([
    ...pictures.map(async (p) => send(picture, `${p.type} ${p.material}`, "sign.jpg", await signPicture(p.type, p.material))),
    ...SIGN_TYPES.map((type) => send(paper, `Proof ${type}`, "proof.pdf", drawing(`Proof of a ${type.toLowerCase()}`, type))),
    ...PAPERS.map((kind, i) => send(paper, kind, "paper.pdf", drawing(`${kind} by Fernhill Wayfinding`, SIGN_TYPES[i]!))),
  ]);
  return {
    take(field, record, content, name) {
      const row = file.orm
        .select()
        .from(files)
        .where(eq(files.id, sent.get(content)!))
        .get();
      if (!row) throw new Error(`The demo has no file for ${content}.`);
      const id = newId();
      file.orm
        .insert(files)
        .values({ ...row, id, fieldId: field.id, recordId: record, ...named(name) })
        .run();
      return id;
    },
    close: () => {
      for (const id of sent.values()) forget(file, id);
    },
  };
}
