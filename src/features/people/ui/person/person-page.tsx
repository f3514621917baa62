import { notFound } from "next/navigation";
import { SHOWN_FIELD } from "@/core/schema/types";
import { accountOf } from "@/data/people/account";
import { actingOf } from "@/data/people/acting";
import { membershipOf } from "@/data/people/people";
import { doorSettings } from "@/identity/doors/settings";
import { secondState } from "@/identity/factors/second";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { SafeForm } from "@/ui/forms/safe-form";
import { Link } from "@/ui/link";
import { UndoableButton } from "@/ui/undoable-button";
import {
  addMembershipForm,
  bringInvitationBack,
  changeStatus,
  endMembership,
  giveBackMembership,
  giveInvitationBack,
  keepSignInName,
  keepUntil,
  setPasswordByHand,
  showToClients,
  withdrawInvitation,
} from "../../actions";
import { membershipChoices } from "../../choices";
import { takeSecondAway } from "../../doors";
import { invitationWords } from "../../invitation";
import { whyNoWay } from "../../way-in";
import { AddMembership, OneLine, PasswordByHand } from "../forms";
import { Invite } from "./invite";
import { SessionsPart } from "./sessions-part";
import { StandingPart } from "./standing-part";

interface Props {
  /** Something was refused, for a sign-in that is too old or for want of the right. */
  again: boolean;
  p: OfficePortal;
  params: { slug: string; id: string };
  seeAs: (slug: string, data: FormData) => Promise<void>;
}

export async function PersonPage({ p, params, seeAs, again }: Props) {
  const acting = actingOf(p.file, params.id);
  if (!acting) notFound();
  const { person } = acting;
  const memberships = acting.memberships.map(membershipOf);
  const roleName = (id: string): string => p.live.policy.role(id)?.name ?? id;
  const password = { none: "has no password yet", temporary: "has a temporary password", own: "has a password of their own" }[
    person.password
  ];
  const invitation = invitationWords(p, person.id);
  const notAsked = person.status === "invited" && person.password === "none" && (!invitation || invitation.withdrawn);
  const account = accountOf(p.file, person.id);
  const ofAgency = memberships.length > 0 && memberships.every((m) => m.companyId === null);
  const shown = person.values[SHOWN_FIELD] === true;
  const second = secondState(p.file, person.id);
  const out = person.status === "inactive" || person.status === "awaiting approval";
  return (
    <div className="grid max-w-3xl gap-6 [&>*]:min-w-0">
      <Link className="link-plain -mb-3 text-sm" href={`${p.at}/people`}>
        People and companies
      </Link>
      {again && (
        <p role="alert" className="alert alert-warning">
          {whyNoWay(p, person.id) ?? ""}
        </p>
      )}
      <div className="flex flex-wrap items-start justify-between gap-3">
        <div>
          <h1>{person.name}</h1>
          <p className="quiet mt-1">{[person.email, notAsked ? "not invited yet" : person.status, password].filter(Boolean).join(" · ")}</p>
        </div>
        <div className="flex gap-2">
          <SafeForm action={seeAs.bind(null, p.slug)}>
            <input type="hidden" name="person" value={person.id} />
            <button type="submit" className="btn btn-sm">
              See as {person.name.split(" ")[0]}
            </button>
          </SafeForm>
          <SafeForm action={changeStatus.bind(null, p.slug, person.id, out ? "active" : "inactive")}>
            <button type="submit" className="btn btn-sm">
              {person.status === "awaiting approval" ? "Approve" : out ? "Make active again" : "Make inactive"}
            </button>
          </SafeForm>
        </div>
      </div>
      {!out && (
        <p className="quiet -mt-3 text-sm">
          Making a person inactive ends every session at once and stops their links. Nothing they added is lost.
        </p>
      )}
      <p className="-mt-3 flex flex-wrap gap-x-5 gap-y-1 text-sm">
        <Link
          className="link-plain"
          href={`${p.at}/check?${new URLSearchParams({ as: [person.id, memberships[0]?.id ?? ""].join(" ").trim() })}`}
        >
          What they see
        </Link>
        <Link className="link-plain" href={`${p.at}/people/outbox?person=${person.id}`}>
          Messages to them
        </Link>
        <Link className="link-plain" href={`${p.at}/log?who=person:${person.id}`}>
          What they did
        </Link>
        <Link className="link-plain" href={`${p.at}/log?record=${person.id}`}>
          What happened to them
        </Link>
        <Link className="link-plain" href={`${p.at}/people/${person.id}/part`}>
          Merge or remove
        </Link>
      </p>
      <section className="sheet p-5" aria-labelledby="memberships">
        <h2 id="memberships">Memberships</h2>
        <ul className="mt-3 divide-y divide-base-300">
          {memberships.map((m) => (
            <li key={m.id} className="flex flex-wrap items-center justify-between gap-3 py-2">
              <span>
                <strong className="font-medium">{m.companyName ?? p.live.definition.portal.name}</strong>, as{" "}
                {m.roles.map(roleName).join(", ")}
              </span>
              <UndoableButton
                act={endMembership.bind(null, p.slug, person.id, m.id)}
                undo={giveBackMembership.bind(null, p.slug, person.id)}
                done={`The membership in ${m.companyName ?? p.live.definition.portal.name} has ended.`}
                label={`End it: the membership in ${m.companyName ?? p.live.definition.portal.name}`}
              >
                End it
              </UndoableButton>
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
      {ofAgency && (
        <section className="sheet flex flex-wrap items-center justify-between gap-3 p-5" aria-labelledby="shown">
          <div>
            <h2 id="shown">What clients see of them</h2>
            <p className="quiet mt-1 max-w-prose">
              {shown
                ? "Clients see what grants on People list, as of their own colleagues: in lists, and where a record names them."
                : "Nothing: where a record names them, clients read that it is withheld."}
            </p>
          </div>
          <SafeForm action={showToClients.bind(null, p.slug, person.id, !shown)}>
            <button type="submit" className="btn btn-sm">
              {shown ? "Show them no more" : "Show them to clients"}
            </button>
          </SafeForm>
        </section>
      )}
      {second.since !== null && (
        <section className="sheet flex flex-wrap items-center justify-between gap-3 p-5" aria-labelledby="second">
          <div>
            <h2 id="second">Second factor</h2>
            <p className="quiet mt-1">An authenticator is asked for after every door.</p>
          </div>
          <SafeForm action={takeSecondAway.bind(null, p.slug, person.id)}>
            <button type="submit" className="btn btn-sm">
              They have lost it: take it away
            </button>
          </SafeForm>
        </section>
      )}
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
      <StandingPart p={p} personId={person.id} name={person.name} />
      <SessionsPart p={p} personId={person.id} name={person.name} />
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
    </div>
  );
}
