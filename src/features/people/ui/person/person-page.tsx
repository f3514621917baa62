import { notFound } from "next/navigation";
import { SHOWN_FIELD } from "@/core/schema/types";
import { accountOf } from "@/data/people/account";
import { actingOf, type PersonFacts } from "@/data/people/acting";
import { type Membership, membershipOf } from "@/data/people/people";
import { secondState } from "@/identity/factors/second";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { SafeForm } from "@/ui/forms/safe-form";
import { Link } from "@/ui/link";
import { changeStatus, showToClients } from "../../actions";
import { takeSecondAway } from "../../doors";
import { invitationWords } from "../../invitation";
import { whyNoWay } from "../../way-in";
import { AccountPart, InvitationPart, MembershipsPart } from "./person-parts";
import { SessionsPart } from "./sessions-part";
import { StandingPart } from "./standing-part";

interface Props {
  /** Something was refused, for a sign-in that is too old or for want of the right. */
  again: boolean;
  p: OfficePortal;
  params: { slug: string; id: string };
  seeAs: (slug: string, data: FormData) => Promise<void>;
}

/** One person: memberships, account, second factor, links, sessions and invitation. */
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
      <PersonLinks p={p} person={person} memberships={memberships} />
      <MembershipsPart memberships={memberships} p={p} roleName={roleName} person={person} />
      {ofAgency && <ShownPart shown={shown} p={p} person={person} />}
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
      <AccountPart p={p} person={person} account={account} />
      <StandingPart p={p} personId={person.id} name={person.name} />
      <SessionsPart p={p} personId={person.id} name={person.name} />
      <InvitationPart invitation={invitation} p={p} person={person} />
    </div>
  );
}

interface PersonLinksProps {
  readonly p: OfficePortal;
  readonly person: PersonFacts;
  readonly memberships: Membership[];
}

/** What they see, and other places about them. */
function PersonLinks({ p, person, memberships }: PersonLinksProps) {
  return (
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
  );
}

interface ShownPartProps {
  readonly shown: boolean;
  readonly p: OfficePortal;
  readonly person: PersonFacts;
}

/** Whether clients see them. */
function ShownPart({ shown, p, person }: ShownPartProps) {
  return (
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
  );
}
