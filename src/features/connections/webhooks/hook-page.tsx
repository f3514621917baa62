import { notFound } from "next/navigation";
import { formatMoment } from "@/core/text/format";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { Empty } from "@/ui/empty";
import { Link } from "@/ui/link";
import { hookById } from "@/webhooks/hooks";
import { LOG_DAYS, type Send, sendsOf } from "@/webhooks/sends";
import { HookButtons } from "./hook-buttons";
import { HookState, seesAs } from "./hooks-page";
import { kindWords } from "./kind-words";
import { TellAgain } from "./tell-again";

const SHOWN = 50;

interface Props {
  p: OfficePortal;
  id: string;
  before: string | undefined;
}

/** One webhook: its state, its buttons, and what it told with the answers. */
export function HookPage({ p, id, before }: Props) {
  const hook = hookById(p.file, id);
  if (!hook) notFound();
  const from = /^\d{1,15}$/.test(before ?? "") ? Number(before) : null;
  const sends = sendsOf(p.file, id, SHOWN + 1, from);
  const here = `${p.at}/connections/webhooks/${id}`;
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={`${p.at}/connections/webhooks`}>
          Webhooks
        </Link>
      </nav>
      <div className="flex flex-wrap items-start justify-between gap-3">
        <div className="min-w-0">
          <h1>{hook.name}</h1>
          <p className="quiet mt-1 break-all">{hook.url}</p>
        </div>
        <HookButtons
          portal={p.slug}
          id={id}
          name={hook.name}
          paused={hook.pausedAt !== null}
          here={here}
          list={`${p.at}/connections/webhooks`}
        />
      </div>
      <dl className="sheet grid grid-cols-[auto_1fr] gap-x-6 gap-y-1.5 p-5">
        <dt className="quiet">State</dt>
        <dd>
          <HookState h={hook} />
        </dd>
        <dt className="quiet">Sees as</dt>
        <dd>{seesAs(p, hook)}</dd>
        <dt className="quiet">Told of</dt>
        <dd>{hook.kinds.map(kindWords).join(", ")}</dd>
      </dl>
      <section className="grid gap-3" aria-labelledby="told">
        <h2 id="told">Messages</h2>
        {sends.length === 0 ? (
          <div className="sheet">
            <Empty title="Nothing told yet">What happens from now on stands here for {LOG_DAYS} days, with the answers.</Empty>
          </div>
        ) : (
          <ul className="sheet divide-y divide-base-300">
            {sends.slice(0, SHOWN).map((s) => (
              <SendRow key={s.id} p={p} s={s} />
            ))}
          </ul>
        )}
        {sends.length > SHOWN && (
          <div>
            <Link className="btn btn-sm" href={`${here}?before=${sends[SHOWN - 1]!.n}`}>
              Earlier ones
            </Link>
          </div>
        )}
      </section>
    </div>
  );
}

function SendRow({ p, s }: { p: OfficePortal; s: Send }) {
  const { locale, timeZone } = p.live.definition.portal;
  const moment = (at: number): string => formatMoment(new Date(at).toISOString(), locale, timeZone);
  return (
    <li className="px-5 py-2">
      <details>
        <summary className="flex cursor-pointer flex-wrap items-baseline gap-x-4 gap-y-0.5">
          <span className="font-medium">{kindWords(s.kind)}</span>
          <span className={s.state === "failed" || (s.state === "waiting" && s.tries > 0) ? "text-accent" : "quiet"}>
            {stateOf(s, moment)}
          </span>
          <span className="quiet ml-auto text-sm">{moment(s.madeAt)}</span>
        </summary>
        <div className="grid gap-3 py-3">
          {s.body !== null && <Said title="What was sent" text={pretty(s.body)} />}
          {s.answer && <Said title={s.status === null ? "Why nothing came back" : `The answer, ${s.status}`} text={s.answer} />}
          <p className="quiet text-sm break-all">
            {s.id}
            {s.tries > 0 && `, ${s.tries === 1 ? "one try" : `${s.tries} tries`}`}
          </p>
          {(s.state === "failed" || s.state === "taken") && s.kind !== "test" && (
            <TellAgain portal={p.slug} hook={s.webhookId} send={s.id} />
          )}
        </div>
      </details>
    </li>
  );
}

function stateOf(s: Send, moment: (at: number) => string): string {
  switch (s.state) {
    case "taken":
      return `taken (${s.status})`;
    case "failed":
      return s.status === null ? "failed: no answer" : `failed (${s.status})`;
    case "passed":
      return "not told: the role does not see it, or the filter leaves it out";
    case "waiting":
      return s.tries === 0 || s.nextAt === null ? "waits" : `tried again ${moment(s.nextAt)}`;
  }
}

const Said = ({ title, text }: { title: string; text: string }) => (
  <div>
    <h3 className="field-label">{title}</h3>
    <pre className="max-h-80 overflow-auto rounded bg-base-200 p-3 text-sm break-words whitespace-pre-wrap">{text}</pre>
  </div>
);

const pretty = (body: string): string => JSON.stringify(JSON.parse(body), null, 2);
