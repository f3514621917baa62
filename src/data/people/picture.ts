/** The face of a person, as they gave it themselves: one picture, theirs to change whatever grants say. Who sees it, grants say. */

import { eq } from "drizzle-orm";
import type { Viewer } from "@/core/access/who/viewer";
import { actorOf, actorText } from "@/core/events/event";
import { err, ok, type Result } from "@/core/result";
import { PICTURE_FIELD } from "@/core/schema/types";
import { record } from "../events/record";
import type { PortalFile } from "../file/open";
import { files } from "../file/portal-tables";
import { transact } from "../file/transact";
import { fileRows } from "../files/seen";
import { storeOf } from "../files/store";
import { appendPiece, beginUpload, forget } from "../files/uploads";
import { schemaOf } from "../tables/read";
import { readSome } from "../tables/rows";
import { updateRow } from "../tables/store";

/** Bytes. It was made small where it was cut. */
export const MOST_PICTURE = 1_500_000;

/** Only who is in, as themselves: nobody looks as somebody else and changes their face. */
function self(file: PortalFile, viewer: Viewer) {
  const field = schemaOf(file).findField(PICTURE_FIELD);
  return viewer.kind === "person" && viewer.mode === "live" && viewer.person?.status === "active" && field
    ? { id: viewer.person.id, field }
    : null;
}

function store(file: PortalFile, viewer: Viewer, id: string, picture: string | null): void {
  const schema = schemaOf(file);
  transact(file, () => {
    if (picture) file.orm.update(files).set({ recordId: id }).where(eq(files.id, picture)).run();
    const made = { by: actorText(actorOf(viewer)), at: new Date(viewer.now).toISOString() };
    updateRow(file, schema, schema.people, id, { [PICTURE_FIELD]: picture ? [picture] : [] }, made);
    record(file, {
      actor: actorOf(viewer),
      via: "page",
      at: viewer.now,
      kind: "record-changed",
      table: "t_people",
      record: id,
      detail: "Picture",
    });
  });
}

/** A sentence where it cannot be read as a picture, or is too large. */
export async function setOwnPicture(file: PortalFile, viewer: Viewer, picture: Blob): Promise<Result<null, string>> {
  const me = self(file, viewer);
  if (!me) return err("Nobody is signed in whose picture it could be.");
  if (picture.size > MOST_PICTURE) return err("This picture is too large.");
  const begun = beginUpload(file, viewer, me.field, { name: "picture.jpg", bytes: picture.size });
  if (!begun.ok) return err(begun.error.code === "refused" ? begun.error.message : "This picture cannot be kept.");
  const { id } = begun.value;
  const done = await appendPiece(file, viewer, () => me.field, id, 0, picture.stream());
  if (!done.ok) return err(done.error.code === "refused" ? done.error.message : "This picture cannot be kept.");
  if (!done.value.whole) {
    forget(file, id);
    return err("This picture did not arrive whole.");
  }
  store(file, viewer, me.id, id);
  return ok(null);
}

/** Takes the viewer's own picture away. False where the viewer is no person. */
export function removeOwnPicture(file: PortalFile, viewer: Viewer): boolean {
  const me = self(file, viewer);
  if (me) store(file, viewer, me.id, null);
  return me !== null;
}

/** One's own, small, as it is shown to oneself: a data address. */
export async function ownPicture(file: PortalFile, personId: string): Promise<string | null> {
  const schema = schemaOf(file);
  if (!schema.findField(PICTURE_FIELD)) return null;
  const held = readSome(file, schema, schema.people, personId, [PICTURE_FIELD])?.values[PICTURE_FIELD];
  const id = Array.isArray(held) ? String(held[0] ?? "") : "";
  const row = id ? fileRows(file, [id]).get(id) : undefined;
  const hash = row?.sizes ? (JSON.parse(row.sizes) as Record<string, string>).small : undefined;
  const content = hash ? await storeOf(file).open(hash) : undefined;
  if (!content) return null;
  const parts: Buffer[] = [];
  for await (const part of content) parts.push(part as Buffer);
  return `data:image/webp;base64,${Buffer.concat(parts).toString("base64")}`;
}
