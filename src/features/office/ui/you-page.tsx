import { OFFICE_ROLE_WORDS } from "@/core/access/who/office";
import { formatMoment } from "@/core/text/format";
import { passkeysOf } from "@/identity/doors/passkey";
import { secondState } from "@/identity/factors/second";
import { officeShelf, type Staff, type StaffSession, staffSessionsOf } from "@/identity/office/sessions";
import { STALE } from "@/office/fresh";
import { SafeForm } from "@/ui/forms/safe-form";
import { Link } from "@/ui/link";
import { NewPasskey } from "@/ui/signing-in/passkeys";
import { EndSecondForm } from "@/ui/signing-in/second-forms";
import { SetUpSecond } from "@/ui/signing-in/set-up-second";
import { beginOfficeSecond, confirmOfficeSecond, endOfficeSecond, endOwnSessions, ownPasswordForm } from "../staff";
import { askNewOfficePasskey, dropOfficePasskey, keepOfficePasskey } from "../ways";
import { OwnPassword } from "./own-password";

/** Oneself in the back office. */
export function YouPage({ staff, session, now, again }: { staff: Staff; session: string; now: number; again: boolean }) {
  const keys = passkeysOf(officeShelf(), staff.id);
  const open = staffSessionsOf(staff.id, now);
  const second = secondState(officeShelf(), staff.id);
  const role = OFFICE_ROLE_WORDS[staff.role];
  return (
    <main className="mx-auto grid min-h-dvh max-w-3xl content-start gap-6 px-5 py-8">
      <Link className="link-plain text-sm" href="/">
        Your portals
      </Link>
      <div>
        <h1>{staff.name}</h1>
        <p className="quiet mt-1">
          {staff.email} · {role.name}. {role.about}
        </p>
      </div>
      {again && (
        <p role="alert" className="alert alert-warning">
          {STALE}
        </p>
      )}
      <section className="sheet grid justify-items-start gap-3 p-5" aria-labelledby="second">
        <h2 id="second">Second factor</h2>
        {second.since === null ? (
          <>
            <p className="quiet">Whoever comes in here sees every client. An authenticator beside the password keeps strangers out.</p>
            <SetUpSecond begin={beginOfficeSecond} confirm={confirmOfficeSecond} onward="/-/you" />
          </>
        ) : (
          <>
            <p className="quiet">
              On since {formatMoment(new Date(second.since).toISOString(), "en-GB", "UTC")} (UTC). {second.codesLeft} recovery codes are
              left.
            </p>
            <details>
              <summary className="link-plain cursor-pointer">Turn it off</summary>
              <div className="mt-3">
                <EndSecondForm action={endOfficeSecond} submit="Turn it off" />
              </div>
            </details>
          </>
        )}
      </section>
      <section className="sheet grid gap-3 p-5" aria-labelledby="passkeys">
        <h2 id="passkeys">Passkeys</h2>
        <p className="quiet">A fingerprint, face or code of your own device, instead of a password and a second factor.</p>
        {keys.length > 0 && (
          <ul className="divide-y divide-base-300">
            {keys.map((k) => (
              <li key={k.id} className="flex flex-wrap items-center justify-between gap-3 py-2">
                {k.name}
                <SafeForm action={dropOfficePasskey.bind(null, k.id)}>
                  <button type="submit" className="btn btn-ghost btn-sm" aria-label={`Take away the passkey ${k.name}`}>
                    Take it away
                  </button>
                </SafeForm>
              </li>
            ))}
          </ul>
        )}
        <NewPasskey ask={askNewOfficePasskey} keep={keepOfficePasskey} />
      </section>
      <section className="sheet grid gap-4 p-5" aria-labelledby="password">
        <h2 id="password">Password</h2>
        <OwnPassword action={ownPasswordForm} />
      </section>
      <SignedInPlaces open={open} session={session} />
    </main>
  );
}

/** Where they are signed in. */
function SignedInPlaces({ open, session }: { open: StaffSession[]; session: string }) {
  return (
    <section className="sheet grid gap-3 p-5" aria-labelledby="sessions">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h2 id="sessions">Where you are signed in</h2>
        {open.length > 1 && (
          <SafeForm action={endOwnSessions.bind(null, "others")}>
            <button type="submit" className="btn btn-sm">
              Sign out everywhere else
            </button>
          </SafeForm>
        )}
      </div>
      <ul className="divide-y divide-base-300">
        {open.map((s) => (
          <li key={s.hash} className="flex flex-wrap items-center justify-between gap-3 py-2">
            <span>
              Since {formatMoment(new Date(s.since).toISOString(), "en-GB", "UTC")} (UTC)
              {s.hash === session && <span className="quiet block text-sm">here</span>}
            </span>
            {s.hash !== session && (
              <SafeForm action={endOwnSessions.bind(null, s.hash)}>
                <button type="submit" className="btn btn-ghost btn-sm">
                  Sign out there
                </button>
              </SafeForm>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
