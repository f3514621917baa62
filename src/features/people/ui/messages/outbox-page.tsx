import { mayInOffice } from "@/core/access/who/office";
import { isOccasion, occasion } from "@/core/messages/occasions";
import { formatMoment } from "@/core/text/format";
import { type Message, type MessageState, outbox, PAGE } from "@/data/messages/outbox";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { Empty } from "@/ui/empty";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import { Pager } from "@/ui/pager";
import { SlashSearch } from "@/ui/slash-search";
import { SendReady } from "./send-ready";

interface Props {
  p: OfficePortal;
  search: { q?: string; state?: string; batch?: string; person?: string; page?: string };
}

export const STATE_WORDS: Record<MessageState, string> = { ready: "ready", waiting: "on its way", sent: "sent", failed: "failed" };

/** Every message as it was written, and how it went. */
export function OutboxPage({ p, search }: Props) {
  const { q = "", batch, person } = search;
  const state = Object.hasOwn(STATE_WORDS, search.state ?? "") ? (search.state as MessageState) : undefined;
  const page = Math.max(1, Number.parseInt(search.page ?? "1", 10) || 1);
  const found = outbox(p.file, p.owner, { words: q, state, batch, person, page });
  const { locale, timeZone } = p.live.definition.portal;
  const at = `${p.at}/people/outbox`;
  const href = (more: Record<string, string>): string => {
    const all = { q, state: state ?? "", batch: batch ?? "", person: person ?? "", ...more };
    const query = new URLSearchParams(Object.entries(all).filter(([, v]) => v));
    return query.size > 0 ? `${at}?${query}` : at;
  };
  const whole = Object.values(found.states).reduce((a, b) => a + b, 0);
  const unsent = found.states.ready + found.states.failed;
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={`${p.at}/people`}>
          People and companies
        </Link>
      </nav>
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h1>Outbox</h1>
        {mayInOffice(p.staff.role, "build") && (
          <Link className="btn btn-ghost btn-sm" href={`${at}/words`}>
            How messages read
          </Link>
        )}
      </div>
      <div className="flex flex-wrap items-center gap-x-5 gap-y-2">
        <form action={at}>
          {batch && <input type="hidden" name="batch" value={batch} />}
          <SlashSearch label="Search messages" value={q} />
        </form>
        <ByState state={state} href={href} whole={whole} locale={locale} found={found} />
        {(batch || person || q) && (
          <Link className="link-plain text-sm" href={at}>
            Show all
          </Link>
        )}
        {batch && whole > 0 && (
          <a className="link-plain text-sm" href={`${at}/links?batch=${encodeURIComponent(batch)}`}>
            Download their links
          </a>
        )}
        {batch && whole > 0 && (
          <Link className="link-plain text-sm" href={`${at}/sheet?batch=${encodeURIComponent(batch)}`}>
            A sheet to print
          </Link>
        )}
        {batch && unsent > 0 && <SendReady portal={p.slug} batch={batch} ids={[]} words={`Send these ${unsent.toLocaleString(locale)}`} />}
      </div>
      {found.list.length === 0 ? (
        <div className="sheet">
          <Empty title={whole === 0 && !q ? "Nothing has been written yet" : "Nothing matches"}>
            {whole === 0 && !q ? "Invitations and links that people ask for stand here, as they were sent." : "No message fits."}
          </Empty>
        </div>
      ) : (
        <MessageList found={found} at={at} locale={locale} timeZone={timeZone} />
      )}
      {found.total > PAGE && (
        <Pager
          label="Pages of messages"
          page={page}
          pages={Math.ceil(found.total / PAGE)}
          size={PAGE}
          total={found.total}
          locale={locale}
          href={(x) => href({ page: String(x) })}
        />
      )}
    </div>
  );
}

interface MessageListProps {
  readonly found: { list: Message[]; total: number; states: Record<MessageState, number> };
  readonly at: string;
  readonly locale: string;
  readonly timeZone: string;
}

/** Messages, newest first. */
function MessageList({ found, at, locale, timeZone }: MessageListProps) {
  return (
    <FramedTable columns={[{ name: "To" }, { name: "Subject" }, { name: "Why" }, { name: "State" }, { name: "Written" }]}>
      {found.list.map((m) => (
        <tr key={m.id}>
          <td className="font-medium">{m.email}</td>
          <td data-label="Subject" className="max-w-60!">
            <Link className="link-plain" href={`${at}/${m.id}`}>
              {m.subject}
            </Link>
          </td>
          <td data-label="Why">{isOccasion(m.occasion) ? occasion(m.occasion).name : m.occasion}</td>
          <td data-label="State" className="max-w-56! whitespace-normal!">
            <span className={`tag ${m.state === "failed" ? "border-accent! text-accent" : ""}`}>
              {STATE_WORDS[m.state as MessageState]}
            </span>
            {m.error && <span className="quiet mt-0.5 block text-sm">{m.error}</span>}
          </td>
          <td data-label="Written" className="whitespace-nowrap">
            {formatMoment(new Date(m.madeAt).toISOString(), locale, timeZone)}
          </td>
        </tr>
      ))}
    </FramedTable>
  );
}

interface ByStateProps {
  readonly state: "waiting" | "failed" | "ready" | "sent" | undefined;
  readonly href: (more: Record<string, string>) => string;
  readonly whole: number;
  readonly locale: string;
  readonly found: { list: Message[]; total: number; states: Record<MessageState, number> };
}

/** Messages by their state. */
function ByState({ state, href, whole, locale, found }: ByStateProps) {
  return (
    <nav aria-label="By state" className="flex flex-wrap gap-4">
      <Link className={state ? "link-plain" : "font-medium"} href={href({ state: "", page: "" })}>
        all {whole.toLocaleString(locale)}
      </Link>
      {(Object.keys(STATE_WORDS) as MessageState[])
        .filter((s) => found.states[s] > 0)
        .map((s) => (
          <Link key={s} className={state === s ? "font-medium" : "link-plain"} href={href({ state: s, page: "" })}>
            {STATE_WORDS[s]} {found.states[s].toLocaleString(locale)}
          </Link>
        ))}
    </nav>
  );
}
