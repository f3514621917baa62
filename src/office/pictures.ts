"use server";
/** Pictures of the portal's own, for its brand and its texts: kept as pixels, by the hash of their bytes. */
import { keepBrandPicture } from "@/data/brand/pictures";
import { officePortalWrite } from "@/identity/requests/office-gate";

export type KeptPicture = { ok: true; hash: string } | { ok: false; message: string };

export async function keepPicture(slug: string, data: FormData): Promise<KeptPicture> {
  const p = await officePortalWrite(slug, "build");
  const file = data.get("picture");
  if (!(file instanceof Blob)) return { ok: false, message: "Choose a picture." };
  if (file.size > 12_000_000) return { ok: false, message: "A picture has 12 MB at the most." };
  const what = data.get("what") === "logo" ? "logo" : "picture";
  const kept = await keepBrandPicture(p.file, p.owner, what, Buffer.from(await file.arrayBuffer()));
  return kept.ok ? { ok: true, hash: kept.value.hash } : { ok: false, message: kept.error };
}
