"use server";
/** Pictures of the portal's own, for its brand and its texts: kept as pixels, by the hash of their bytes. */
import { z } from "zod";
import { keepBrandPicture } from "@/data/brand/pictures";
import { officeCall } from "@/office/action";

export type KeptPicture = { ok: true; hash: string } | { ok: false; message: string };

export const keepPicture = officeCall("build", [z.instanceof(FormData)], async (p, data): Promise<KeptPicture> => {
  const file = data.get("picture");
  if (!(file instanceof Blob)) return { ok: false, message: "Choose a picture." };
  if (file.size > 12_000_000) return { ok: false, message: "A picture has 12 MB at the most." };
  const what = data.get("what") === "logo" ? "logo" : "picture";
  const kept = await keepBrandPicture(p.file, p.owner, what, Buffer.from(await file.arrayBuffer()));
  return kept.ok ? { ok: true, hash: kept.value.hash } : { ok: false, message: kept.error };
});
