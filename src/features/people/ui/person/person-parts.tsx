import { mayInOffice } from "@/core/access/who/office";
import type { Account } from "@/data/people/account";
import type { PersonFacts } from "@/data/people/acting";
import type { Membership } from "@/data/people/people";
import { doorSettings } from "@/identity/doors/settings";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { SafeForm } from "@/ui/forms/safe-form";
import { Link } from "@/ui/link";
import { UndoableButton } from "@/ui/undoable-button";
import {
  addMembershipForm,
  bringInvitationBack,
  endMembership,
  giveBackMembership,
  giveInvitationBack,
  keepSignInName,
  keepUntil,
  setPasswordByHand,
  withdrawInvitation,
} from "../../actions";
import { membershipChoices } from "../../choices";
import type { InvitationWords } from "../../invitation";
import { AddMembership, OneLine, PasswordByHand } from "../forms";
import { Invite } from "./invite";

interface InvitationPartProps {
  readonly invitation: InvitationWords | null;
  readonly p: OfficePortal;
  readonly person: PersonFacts;
}

/** Their invitation, if any, and another. */
export function InvitationPart({ invitation, p, person }: InvitationPartProps) {
  return (
    <section className="sheet grid gap-4 p-5" aria-labelledby="invite">
      <h2 id="invite">Invitation</h2>
      {invitation && (
        <p className="flex flex-wrap items-center gap-x-4 gap-y-1">
          {invitation.words}
          {invitation.open && (
            <UndoableButton
              act={withdrawInvitation.bind(null, p.slug, person.id)}
              undo={giveInvitationBack.bind(null, p.slug)}
              done="The invitation is taken back."
              label="Take the invitation back"
            >
              Take it back
            </UndoableButton>
          )}
          {invitation.withdrawn && (
            <SafeForm action={bringInvitationBack.bind(null, p.slug, person.id)}>
              <button type="submit" className="link-plain cursor-pointer">
                Give it back
              </button>
            </SafeForm>
          )}
        </p>
      )}
      <Invite key={invitation?.withdrawn ? "taken back" : "there"} portal={p.slug} personId={person.id} name={person.name} />
      {person.password !== "own" && (
        <details>
          <summary className="link-plain cursor-pointer">Set a first password by hand</summary>
          <div className="mt-4">
            <PasswordByHand action={setPasswordByHand.bind(null, p.slug, person.id)} />
          </div>
        </details>
      )}
    </section>
  );
}

interface MembershipsPartProps {
  readonly memberships: Membership[];
  readonly p: OfficePortal;
  readonly roleName: (id: string) => string;
  readonly person: PersonFacts;
}

/** Companies that they belong to, with their roles. */
export function MembershipsPart({ memberships, p, roleName, person }: MembershipsPartProps) {
  return (
    <section className="sheet p-5" aria-labelledby="memberships">
      <h2 id="memberships">Memberships</h2>
      <ul className="mt-3 divide-y divide-base-300">
        {memberships.map((m) => (
          <li key={m.id} className="flex flex-wrap items-center justify-between gap-3 py-2">
            <span>
              <strong className="font-medium">{m.companyName ?? p.live.definition.portal.name}</strong>, as{" "}
              {m.roles.map(roleName).join(", ")}
            </span>
            <span className="flex flex-wrap items-center gap-2">
              {mayInOffice(p.staff.role, "build") && (
                <Link className="btn btn-ghost btn-sm" href={`${p.at}/connections/keys/new?person=${person.id}+${m.id}`}>
                  Key for a program
                </Link>
              )}
              <UndoableButton
                act={endMembership.bind(null, p.slug, person.id, m.id)}
                undo={giveBackMembership.bind(null, p.slug, person.id)}
                done={`The membership in ${m.companyName ?? p.live.definition.portal.name} has ended.`}
                label={`End it: the membership in ${m.companyName ?? p.live.definition.portal.name}`}
              >
                End it
              </UndoableButton>
            </span>
          </li>
        ))}
        {memberships.length === 0 && <li className="py-2 text-accent">No membership: signed in, they would see nothing.</li>}
      </ul>
      <details className="mt-3">
        <summary className="link-plain cursor-pointer">Add a membership, or change its roles</summary>
        <div className="mt-4">
          <AddMembership
            action={addMembershipForm.bind(null, p.slug, person.id)}
            {...membershipChoices(p)}
            held={Object.fromEntries(memberships.map((m) => [m.companyId ?? "agency", m.roles]))}
          />
        </div>
      </details>
    </section>
  );
}

interface AccountPartProps {
  readonly p: OfficePortal;
  readonly person: PersonFacts;
  readonly account: Account;
}

/** Last day, sign-in name and password. */
export function AccountPart({ p, person, account }: AccountPartProps) {
  return (
    <section className="sheet grid gap-4 p-5" aria-labelledby="account">
      <h2 id="account">Their account</h2>
      <OneLine
        action={keepUntil.bind(null, p.slug, person.id)}
        name="until"
        type="date"
        label="Last day"
        value={account.until ?? ""}
        hint="After it the account is expired: sessions end, and no door opens. Left empty it goes on."
        submit="Keep"
      />
      {(doorSettings(p.file).names || account.name) && (
        <OneLine
          action={keepSignInName.bind(null, p.slug, person.id)}
          name="signInName"
          label="Sign-in name"
          value={account.name ?? ""}
          hint="Theirs alone in this portal; capitals do not matter."
          submit="Keep"
        />
      )}
    </section>
  );
}
