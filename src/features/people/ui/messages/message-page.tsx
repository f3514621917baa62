import { Download } from "lucide-react";
import { notFound } from "next/navigation";
import { isOccasion, occasion } from "@/core/messages/occasions";
import { formatMoment } from "@/core/text/format";
import { rehearsalIn } from "@/data/file/clock";
import { type MessageState, messageById, readable } from "@/data/messages/outbox";
import { stopOf } from "@/data/messages/stops";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { letterOf } from "@/letters/send";
import { SafeForm } from "@/ui/forms/safe-form";
import { Link } from "@/ui/link";
import { tryAddressAgain } from "../../inviting";
import { STATE_WORDS } from "./outbox-page";
import { SendReady } from "./send-ready";

/** One message as it was sent, but for a link that is its receiver's alone. */
export function MessagePage({ p, id }: { p: OfficePortal; id: string }) {
  const m = messageById(p.file, id);
  if (!m) notFound();
  const { locale, timeZone } = p.live.definition.portal;
  const at = `${p.at}/people/outbox`;
  const stop = m.state === "failed" ? stopOf(p.file, m.email) : undefined;
  const bounced = stop?.kind === "bounce";
  // In a rehearsal it is read in its receiver's place: nobody else ever gets it.
  const rehearsed = rehearsalIn(p.file) !== null;
  const open = !rehearsed && (m.state === "ready" || m.state === "failed");
  const text = (rehearsed && letterOf(p.file, m, p.now)?.text) || readable(m);
  return (
    <div className="grid max-w-3xl gap-5 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={at}>
          Outbox
        </Link>
      </nav>
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h1>{m.subject}</h1>
        <div className="flex gap-2">
          <a className="btn btn-sm" href={`${at}/${m.id}/eml`} download>
            <Download size={15} aria-hidden /> As a mail file
          </a>
          {bounced && (
            <SafeForm action={tryAddressAgain.bind(null, p.slug, m.id)}>
              <button type="submit" className="btn btn-sm">
                The address works again: send it
              </button>
            </SafeForm>
          )}
          {open && !stop && (
            <SendReady portal={p.slug} ids={[m.id]} batch={null} words={m.state === "failed" ? "Send it again" : "Send it"} />
          )}
        </div>
      </div>
      <dl className="grid grid-cols-[auto_1fr] gap-x-6 gap-y-1.5">
        <dt className="quiet">To</dt>
        <dd>
          {m.personId ? (
            <Link className="link-plain" href={`${p.at}/people/${m.personId}`}>
              {m.email}
            </Link>
          ) : (
            m.email
          )}
        </dd>
        <dt className="quiet">Why</dt>
        <dd>{isOccasion(m.occasion) ? occasion(m.occasion).about : m.occasion}</dd>
        <dt className="quiet">State</dt>
        <dd>
          {STATE_WORDS[m.state as MessageState]}
          {m.sentAt && `, ${formatMoment(new Date(m.sentAt).toISOString(), locale, timeZone)}`}
          {m.tries > 0 && `, ${m.tries === 1 ? "one try" : `${m.tries} tries`}`}
          {m.error && <span className="text-accent">. {m.error}</span>}
        </dd>
        <dt className="quiet">Written</dt>
        <dd>{formatMoment(new Date(m.madeAt).toISOString(), locale, timeZone)}</dd>
      </dl>
      <div className="sheet p-6 leading-relaxed break-words whitespace-pre-wrap">{text}</div>
    </div>
  );
}
