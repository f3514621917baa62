/**
 * One-click unsubscription (RFC 8058 section 3.2): a POST from the receiver's mail service, without cookies and from no page of ours, so
 * that the origin is not asked (docs/design: settled 21). The address itself is signed, and ends nothing but mail to one address.
 */
import { whenFree } from "@/data/file/when-free";
import { requestPortal } from "@/identity/requests/request";
import { stopMail, stoppedBy } from "@/letters/stop-mail";

const said = (status: number, words: string): Response =>
  new Response(`${words}\n`, { status, headers: { "content-type": "text/plain; charset=utf-8", "cache-control": "no-store" } });

/** Stops mail at one click of a mail reader (RFC 8058). 404 for a link that is not ours, 400 for another body. */
export async function oneClick(request: Request, slug: string, token: string): Promise<Response> {
  const r = await requestPortal(slug);
  const email = r && stoppedBy(r.file, token);
  if (!r || !email) return said(404, "Not found");
  const length = Number(request.headers.get("content-length") ?? 0);
  const body = length <= 10_000 ? await request.text() : "";
  if (!body.includes("List-Unsubscribe=One-Click")) return said(400, "This address takes one-click unsubscription alone.");
  await whenFree(r.file);
  stopMail(r.file, email, Date.now());
  return said(200, "No more such mail comes to this address.");
}

/** For mail programs that have no one click and open the address. */
export async function toPage(slug: string, token: string): Promise<Response> {
  const r = await requestPortal(slug);
  if (!r) return said(404, "Not found");
  return new Response(null, {
    status: 303,
    headers: { location: `${r.base}/-/stop/${encodeURIComponent(token)}`, "cache-control": "no-store" },
  });
}
