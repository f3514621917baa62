"use server";
/** One's own face: cut in the browser, kept as any picture is. */
import { revalidatePath } from "next/cache";
import { z } from "zod";
import { removeOwnPicture, setOwnPicture } from "@/data/people/picture";
import { portalCall } from "@/office/portal-action";
import { sayOf } from "../queries";

export const keepPicture = portalCall([z.instanceof(FormData)], async (r, data): Promise<{ problem: string | null }> => {
  const picture = data.get("picture");
  if (!r.session || !(picture instanceof Blob)) return { problem: sayOf(r)("picture.not-in") };
  const done = await setOwnPicture(r.file, r.viewer, picture);
  if (done.ok) revalidatePath("/", "layout");
  return { problem: done.ok ? null : done.error };
});

export const dropPicture = portalCall([], async (r): Promise<void> => {
  if (r.session) removeOwnPicture(r.file, r.viewer);
  revalidatePath("/", "layout");
});
