/** Oneself: who one is here, how one comes in, and where one is signed in. */

import { formatMoment } from "@/core/text/format";
import type { Say } from "@/core/words/words";
import { personFacts } from "@/data/people/people";
import { ownPicture } from "@/data/people/picture";
import { type PasskeyRow, passkeysOf } from "@/identity/doors/passkey";
import { passwordState } from "@/identity/entering/sign-in";
import { secondState } from "@/identity/factors/second";
import type { PortalRequest } from "@/identity/requests/request";
import { type OpenSession, type Session, sessionsOf } from "@/identity/sessions/sessions";
import { emailUnderWay } from "@/letters/email-change";
import { NewPasskey } from "@/ui/signing-in/passkeys";
import { EndSecondForm } from "@/ui/signing-in/second-forms";
import { SetUpSecond } from "@/ui/signing-in/set-up-second";
import { endSessions } from "../../door/actions";
import { askNewPasskey, beginSecond, changeEmail, confirmSecond, dropPasskey, endSecond, keepPasskey } from "../../door/own-actions";
import { localeOf, sayOf } from "../../queries";
import { EmailForms } from "./email-forms";
import { Details } from "./own-details";
import { OwnPicture } from "./own-picture";

/** A person's own page: picture, companies, e-mail, ways in, and where they are signed in. */
export async function Me({ r, session, again }: { r: PortalRequest; session: Session; again: boolean }) {
  const say = sayOf(r);
  const { locale, timeZone } = localeOf(r);
  const person = personFacts(r.file, session.personId);
  const open = sessionsOf(r.file, session.personId, r.viewer.now);
  const when = (at: number): string => formatMoment(new Date(at).toISOString(), locale, timeZone);
  const keys = passkeysOf(r.file, session.personId);
  const second = secondState(r.file, session.personId);
  const own = passwordState(r.file, session.personId) === "own";
  return (
    <div className="grid max-w-3xl gap-6 [&>*]:min-w-0">
      <div>
        <h1>{person?.name}</h1>
        <p className="quiet mt-1">{person?.email}</p>
      </div>
      {again && (
        <p role="alert" className="alert alert-warning">
          {say("me.not-fresh")}
        </p>
      )}
      <section className="sheet grid gap-3 p-5" aria-labelledby="picture">
        <h2 id="picture">{say("me.picture")}</h2>
        <OwnPicture picture={await ownPicture(r.file, session.personId)} />
      </section>
      <Details r={r} personId={session.personId} />
      <section className="sheet grid gap-3 p-5" aria-labelledby="companies">
        <h2 id="companies">{say("me.companies")}</h2>
        <ul className="divide-y divide-base-300">
          {r.memberships.map((m) => (
            <li key={m.id} className="py-2">
              <strong className="font-medium">{m.company?.name ?? r.published.definition.portal.name}</strong>
              <span className="quiet"> {m.roles.map((id) => r.published.policy.role(id)?.name ?? id).join(", ")}</span>
            </li>
          ))}
          {r.memberships.length === 0 && <li className="quiet py-2">{say("me.no-company")}</li>}
        </ul>
      </section>
      <section className="sheet grid gap-3 p-5" aria-labelledby="address">
        <h2 id="address">{say("email.heading")}</h2>
        <p className="quiet">{say("email.how")}</p>
        <EmailForms action={changeEmail} underWay={emailUnderWay(r.file, session.personId, r.viewer.now) !== undefined} />
      </section>
      <section className="sheet grid justify-items-start gap-3 p-5" aria-labelledby="password">
        <h2 id="password">{say("me.password")}</h2>
        <p className="quiet">{say(own ? "me.password-own" : "me.password-none")}</p>
        <a className="btn btn-sm" href={`${r.base}/new-password`}>
          {say(own ? "me.password-change" : "me.password-choose")}
        </a>
      </section>
      <OwnPasskeys say={say} keys={keys} when={when} />
      <section className="sheet grid justify-items-start gap-3 p-5" aria-labelledby="second">
        <h2 id="second">{say("second.heading")}</h2>
        {second.since === null ? (
          <>
            <p className="quiet">{say("second.none")}</p>
            <SetUpSecond begin={beginSecond} confirm={confirmSecond} onward={`${r.base}/-/me`} />
          </>
        ) : (
          <>
            <p className="quiet">{say("second.on", { when: when(second.since), left: second.codesLeft })}</p>
            <details>
              <summary className="link-plain cursor-pointer">{say("second.turn-off")}</summary>
              <div className="mt-3">
                <EndSecondForm action={endSecond} submit={say("second.turn-off")} />
              </div>
            </details>
          </>
        )}
      </section>
      <SignedInPlaces say={say} open={open} when={when} session={session} />
    </div>
  );
}

interface SignedInPlacesProps {
  readonly say: Say;
  readonly open: OpenSession[];
  readonly when: (at: number) => string;
  readonly session: Session;
}

/** Where they are signed in. */
function SignedInPlaces({ say, open, when, session }: SignedInPlacesProps) {
  return (
    <section className="sheet grid gap-3 p-5" aria-labelledby="places">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h2 id="places">{say("me.places")}</h2>
        {open.length > 1 && (
          <form action={endSessions}>
            <input type="hidden" name="which" value="others" />
            <button type="submit" className="btn btn-sm">
              {say("me.end-others")}
            </button>
          </form>
        )}
      </div>
      <ul className="divide-y divide-base-300">
        {open.map((s) => (
          <li key={s.hash} className="flex flex-wrap items-center justify-between gap-3 py-2">
            <span>
              {say("me.since", { when: when(s.since) })}
              <span className="quiet block text-sm">
                {s.hash === session.hash ? say("me.here") : say("me.seen", { when: when(s.seenAt) })}
                {s.via === "link" && `, ${say("me.by-link")}`}
              </span>
            </span>
            {s.hash !== session.hash && (
              <form action={endSessions}>
                <input type="hidden" name="which" value={s.hash} />
                <button type="submit" className="btn btn-ghost btn-sm" aria-label={say("me.end-since", { when: when(s.since) })}>
                  {say("me.end")}
                </button>
              </form>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

interface OwnPasskeysProps {
  readonly say: Say;
  readonly keys: PasskeyRow[];
  readonly when: (at: number) => string;
}

/** Their passkeys. */
function OwnPasskeys({ say, keys, when }: OwnPasskeysProps) {
  return (
    <section className="sheet grid gap-3 p-5" aria-labelledby="passkeys">
      <h2 id="passkeys">{say("passkey.heading")}</h2>
      <p className="quiet">{say("passkey.none")}</p>
      {keys.length > 0 && (
        <ul className="divide-y divide-base-300">
          {keys.map((k) => (
            <li key={k.id} className="flex flex-wrap items-center justify-between gap-3 py-2">
              <span>
                {k.name}
                <span className="quiet block text-sm">
                  {say("passkey.made", { when: when(k.madeAt) })}
                  {k.usedAt !== null && `, ${say("passkey.used", { when: when(k.usedAt) })}`}
                </span>
              </span>
              <form action={dropPasskey}>
                <input type="hidden" name="id" value={k.id} />
                <button type="submit" className="btn btn-ghost btn-sm" aria-label={say("passkey.remove-named", { name: k.name })}>
                  {say("passkey.remove")}
                </button>
              </form>
            </li>
          ))}
        </ul>
      )}
      <NewPasskey ask={askNewPasskey} keep={keepPasskey} />
    </section>
  );
}
