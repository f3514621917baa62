/** Trying things out in a copy: begun here, moved on in time, looked at as anybody, thrown away. */
import { formatDate, formatMoment } from "@/core/text/format";
import { dateIn } from "@/core/time/relative";
import { nextDue } from "@/data/billing/life";
import { rehearsalIn } from "@/data/file/clock";
import { REHEARSAL_LASTS, rehearsalOf, rehearsalSlug } from "@/data/installation/rehearsal";
import { directory } from "@/data/people/directory";
import { portalAddress } from "@/identity/requests/addresses";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { CheckTabs } from "@/office/ui/check-tabs";
import { shownAccount } from "@/orders/account";
import { SafeForm } from "@/ui/forms/safe-form";
import { Link } from "@/ui/link";
import { anew, beginRehearsal, beThem, moveOn, stopRehearsal } from "../actions";
import { CarryDraft } from "./carry-draft";

/** A copy of the portal to try things in: begun, entered as somebody, ended. */
export function RehearsalPage({ p }: { p: OfficePortal }) {
  const facts = rehearsalIn(p.file);
  return (
    <div className="grid gap-8 [&>*]:min-w-0">
      <div>
        <h1>Rehearsal</h1>
        <p className="quiet mt-1 max-w-prose">
          A throw-away copy of the portal with a clock of its own. People sign in to it by one click, what is paid is paid at a test
          account, and no message leaves its outbox. Nothing of it ever comes back to the portal.
        </p>
      </div>
      <CheckTabs at={p.at} role={p.staff.role} />
      {facts ? <Inside p={p} /> : <Outside p={p} />}
    </div>
  );
}

function Outside({ p }: { p: OfficePortal }) {
  const there = rehearsalOf(p.slug);
  const { locale, timeZone } = p.live.definition.portal;
  return (
    <section className="sheet grid gap-4 p-5">
      {there ? (
        <>
          <p>
            {`One was begun by ${there.facts.madeBy}, ${formatMoment(new Date(there.facts.madeAt).toISOString(), locale, timeZone)}. It ends by itself on ${formatDate(dateIn(there.facts.madeAt + REHEARSAL_LASTS, timeZone), locale)}.`}
          </p>
          <div className="flex flex-wrap gap-3">
            <Link className="btn btn-primary btn-sm" href={`/portals/${rehearsalSlug(p.slug)}/rehearsal`}>
              Go to the rehearsal
            </Link>
            <SafeForm action={stopRehearsal.bind(null, p.slug)}>
              <button type="submit" className="btn btn-sm">
                Throw it away
              </button>
            </SafeForm>
          </div>
        </>
      ) : (
        <>
          <p>There is none now. It begins as the portal is at this moment, with its draft.</p>
          <SafeForm action={beginRehearsal.bind(null, p.slug)}>
            <button type="submit" className="btn btn-primary btn-sm">
              Begin a rehearsal
            </button>
          </SafeForm>
        </>
      )}
    </section>
  );
}

function Inside({ p }: { p: OfficePortal }) {
  const facts = rehearsalIn(p.file)!;
  const { locale, timeZone } = p.live.definition.portal;
  const today = dateIn(p.now, timeZone);
  const next = nextDue(p.file, today);
  const { people, companies } = directory(p.file, p.owner, today);
  const account = shownAccount(p.file, p.owner);
  const of = (id: string): string => companies.find((c) => c.id === id)?.name ?? "";
  return (
    <>
      <section className="sheet grid gap-4 p-5" aria-labelledby="clock">
        <h2 id="clock">Its clock</h2>
        <p>
          Here it is <strong className="tabular-nums">{formatMoment(new Date(p.now).toISOString(), locale, timeZone)}</strong>
          {facts.ahead > 3_600_000 && `, ${Math.round(facts.ahead / 86_400_000)} days ahead of the real one`}.{" "}
          {next ? `Something falls due next on ${formatDate(next, locale)}.` : "Nothing falls due."}
        </p>
        <SafeForm action={moveOn.bind(null, p.slug)} className="flex flex-wrap gap-3">
          <button type="submit" name="to" value="next" className="btn btn-primary btn-sm" disabled={!next}>
            On to what falls due next
          </button>
          {[1, 7, 30].map((n) => (
            <button key={n} type="submit" name="days" value={n} className="btn btn-sm">
              {n === 1 ? "A day on" : `${n} days on`}
            </button>
          ))}
        </SafeForm>
        <p className="quiet text-sm">
          {account
            ? "Paid at a test account of its own, which knows the companies' ways to pay."
            : "It has no account at a payment provider: give one a test key under Plans."}{" "}
          <Link className="link-plain" href={`${p.at}/plans/money`}>
            Money
          </Link>
          {" · "}
          <Link className="link-plain" href={`${p.at}/people/outbox`}>
            Its outbox
          </Link>
          {" · "}
          <a className="link-plain" href={portalAddress(p.slug)}>
            Open it as a visitor
          </a>
        </p>
      </section>
      <section className="grid gap-3" aria-labelledby="people">
        <h2 id="people">Be somebody</h2>
        <ul className="sheet divide-y divide-base-300 px-5">
          {people.slice(0, 200).map((x) => (
            <li key={x.id} className="flex flex-wrap items-center justify-between gap-3 py-2.5">
              <span>
                <span className="font-medium">{x.name}</span>{" "}
                <span className="quiet text-sm">{x.memberships.map((m) => (m.companyId ? of(m.companyId) : "the agency")).join(", ")}</span>
              </span>
              <SafeForm action={beThem.bind(null, p.slug)}>
                <input type="hidden" name="person" value={x.id} />
                <button type="submit" className="btn btn-xs">
                  Be them<span className="sr-only">: {x.name}</span>
                </button>
              </SafeForm>
            </li>
          ))}
        </ul>
      </section>
      <section className="flex flex-wrap gap-3" aria-label="Its end">
        <CarryDraft portal={p.slug} />
        <SafeForm action={anew.bind(null, p.slug)}>
          <button type="submit" className="btn btn-sm">
            Begin it anew
          </button>
        </SafeForm>
        <SafeForm action={stopRehearsal.bind(null, p.slug)}>
          <button type="submit" className="btn btn-sm">
            Throw it away
          </button>
        </SafeForm>
      </section>
    </>
  );
}
