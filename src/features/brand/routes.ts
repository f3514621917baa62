/** Pictures of the brand. On the portal's host they are as public as the sign-in page that they stand on; in the office they are its staff's. */
import { brandBytes } from "@/data/brand/pictures";
import { type PortalFile, portalFile } from "@/data/file/open";
import { officePortalOf } from "@/identity/requests/office-gate";

const MISSING = new Response("Not found\n", { status: 404, headers: { "content-type": "text/plain; charset=utf-8" } });

/** Bytes never change under their hash, so they may be kept for good. */
function answer(file: PortalFile | undefined, hash: string): Response {
  const found = file && /^[0-9a-f]{64}$/.test(hash) ? brandBytes(file, hash) : undefined;
  if (!found) return MISSING.clone();
  return new Response(new Uint8Array(found.bytes), {
    headers: { "content-type": found.type, "cache-control": "public, max-age=31536000, immutable", "x-content-type-options": "nosniff" },
  });
}

/** A picture of a portal's brand for whoever visits it. 404 where there is none such. */
export const ofPortal = (slug: string, hash: string): Response => answer(portalFile(slug), hash);

/** A picture of a portal's brand for whoever works on it. 404 for anybody else. */
export async function ofOffice(slug: string, hash: string): Promise<Response> {
  return answer((await officePortalOf(slug, "overview"))?.file, hash);
}
