/** A message of the outbox as a file that mail programs open (RFC 5322), without a link that is its receiver's alone. */
import MailComposer from "nodemailer/lib/mail-composer";
import { config } from "@/config";
import { messageById, readable } from "@/data/messages/outbox";
import { officePortalOf } from "@/identity/requests/office-gate";
import { onMainHost } from "@/identity/requests/request";

/** A message as it was sent (RFC 5322). 404 for whoever may not read it. */
export async function mailFile(slug: string, id: string): Promise<Response> {
  const p = (await onMainHost()) ? await officePortalOf(slug, "people") : undefined;
  const m = p && messageById(p.file, id);
  if (!m) return new Response("Not found\n", { status: 404, headers: { "content-type": "text/plain; charset=utf-8" } });
  const mail = new MailComposer({
    from: config().mail.from,
    to: m.email,
    subject: m.subject,
    text: readable(m),
    date: new Date(m.sentAt ?? m.madeAt),
    messageId: `<${m.id}@${config().mail.from.split("@")[1]}>`,
  });
  return new Response(new Uint8Array(await mail.compile().build()), {
    headers: {
      "content-type": "message/rfc822",
      "content-disposition": `attachment; filename="${m.id}.eml"`,
      "cache-control": "private, no-store",
    },
  });
}
