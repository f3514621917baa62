"use server";
/** One's own face: cut in the browser, kept as any picture is. */
import { revalidatePath } from "next/cache";
import { removeOwnPicture, setOwnPicture } from "@/data/people/picture";
import { requestPortalWrite } from "@/identity/requests/request";
import { sayOf } from "../queries";

export async function keepPicture(data: FormData): Promise<{ problem: string | null }> {
  const r = await requestPortalWrite();
  const picture = data.get("picture");
  if (!r.session || !(picture instanceof Blob)) return { problem: sayOf(r)("picture.not-in") };
  const done = await setOwnPicture(r.file, r.viewer, picture);
  if (done.ok) revalidatePath("/", "layout");
  return { problem: done.ok ? null : done.error };
}

export async function dropPicture(): Promise<void> {
  const r = await requestPortalWrite();
  if (r.session) removeOwnPicture(r.file, r.viewer);
  revalidatePath("/", "layout");
}
