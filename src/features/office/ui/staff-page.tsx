import { OFFICE_ROLE_WORDS, OFFICE_ROLES } from "@/core/access/who/office";
import type { Owner } from "@/core/access/who/viewer";
import { formatMoment } from "@/core/text/format";
import { staffLog } from "@/data/installation/staff-log";
import type { Staff } from "@/identity/office/sessions";
import { staffList } from "@/staff/staff";
import { Link } from "@/ui/link";
import { changeStaffForm, inviteStaffForm } from "../staff";
import { InviteStaff, StaffMember } from "./staff-forms";

const ROLES = OFFICE_ROLES.map((id) => ({ id, ...OFFICE_ROLE_WORDS[id] }));

/** Who works in the back office, and as what. */
export function StaffPage({ owner, staff }: { owner: Owner; staff: Staff }) {
  const list = staffList(owner);
  const log = staffLog(owner);
  return (
    <main className="mx-auto grid min-h-dvh max-w-3xl content-start gap-6 px-5 py-8">
      <Link className="link-plain text-sm" href="/">
        Your portals
      </Link>
      <div>
        <h1>Who works here</h1>
        <p className="quiet mt-1">A role counts at once, in every portal.</p>
      </div>
      <ul className="sheet divide-y divide-base-300 px-5">
        {list.map((s) => (
          <StaffMember key={s.id} who={s} oneself={s.id === staff.id} roles={ROLES} action={changeStaffForm.bind(null, s.id)} />
        ))}
      </ul>
      <section className="sheet grid gap-4 p-5" aria-labelledby="ask">
        <h2 id="ask">Ask somebody in</h2>
        <InviteStaff action={inviteStaffForm} roles={ROLES} />
      </section>
      {log.length > 0 && (
        <section className="grid gap-2" aria-labelledby="log">
          <h2 id="log">What happened</h2>
          <ul className="sheet divide-y divide-base-300 px-5">
            {log.map((e) => (
              <li key={e.id} className="flex flex-wrap justify-between gap-x-4 py-2">
                <span>
                  <strong className="font-medium">{e.by}</strong> {e.says}
                  {e.detail && ` ${e.detail}`}
                </span>
                <span className="quiet text-sm">{formatMoment(new Date(e.at).toISOString(), "en-GB", "UTC")} (UTC)</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </main>
  );
}
