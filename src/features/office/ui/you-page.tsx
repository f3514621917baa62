import { OFFICE_ROLE_WORDS } from "@/core/access/office";
import { formatMoment } from "@/core/text/format";
import { officeShelf, type Staff } from "@/identity/office";
import { secondState } from "@/identity/second";
import { Link } from "@/ui/link";
import { EndSecondForm } from "@/ui/second-forms";
import { SetUpSecond } from "@/ui/set-up-second";
import { beginOfficeSecond, confirmOfficeSecond, endOfficeSecond, ownPasswordForm } from "../staff";
import { OwnPassword } from "./own-password";

/** Oneself in the back office. */
export function YouPage({ staff }: { staff: Staff }) {
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
      <section className="sheet grid gap-4 p-5" aria-labelledby="password">
        <h2 id="password">Password</h2>
        <OwnPassword action={ownPasswordForm} />
      </section>
    </main>
  );
}
