/** What leads see and do for their company. */

import { maysPay } from "@/core/access/payer";
import { formatMoment, listIn } from "@/core/text/format";
import { payersOf, type Seats } from "@/data/billing/people";
import type { PortalRequest } from "@/identity/requests/request";
import type { CompanyDesk } from "@/joining/company-page";
import { Link } from "@/ui/link";
import { changeColleague, inviteColleague } from "../../door/join-actions";
import { localeOf, sayOf } from "../../queries";
import { ColleagueForm, InviteColleague } from "./company-forms";

/** A company's own page, for whoever leads it: its people, and inviting more. */
export function CompanyPage({ r, desk, fresh }: { r: PortalRequest; desk: CompanyDesk; fresh: boolean }) {
  const say = sayOf(r);
  const { locale, timeZone } = localeOf(r);
  const role = (id: string): string => r.published.policy.role(id)?.name ?? id;
  const give = desk.give.map((id) => ({ id, name: role(id) }));
  const { companies } = r.published.policy.schema;
  const record = r.desk.may(companies, "change") ? `${r.base}/${companies.slug}/${desk.companyId}/change` : null;
  const { used, all } = desk.seats;
  return (
    <div className="grid max-w-3xl gap-6 [&>*]:min-w-0">
      <div className="flex flex-wrap items-end justify-between gap-3">
        <div>
          <h1>{r.viewer.company?.name}</h1>
          <p className="quiet mt-1">
            {fresh ? say("company.fresh") : all === null ? say("company.people", { used }) : say("company.seats", { used, all })}
          </p>
        </div>
        {record && (
          <Link className="btn btn-sm" href={record}>
            {say("company.change")}
          </Link>
        )}
      </div>
      <section className="sheet p-5" aria-labelledby="colleagues">
        <h2 id="colleagues">{say("company.who")}</h2>
        <ul className="mt-2 divide-y divide-base-300">
          {desk.list().map((c) => (
            <li key={c.membershipId} className="grid gap-2 py-3">
              <div>
                <strong className="font-medium">{c.name}</strong> <span className="quiet break-all">{c.email}</span>
                <span className="quiet block text-sm">
                  {[
                    c.roles.map(role).join(", "),
                    say(c.status === "invited" ? "company.invited-state" : c.status === "active" ? "company.active" : "company.inactive"),
                    c.seenAt !== null && say("me.seen", { when: formatMoment(new Date(c.seenAt).toISOString(), locale, timeZone) }),
                  ]
                    .filter(Boolean)
                    .join(" · ")}
                </span>
              </div>
              {c.mine && (
                <details>
                  <summary className="link-plain cursor-pointer text-sm">{say("company.do", { person: c.name })}</summary>
                  <div className="mt-2">
                    <ColleagueForm
                      action={changeColleague.bind(null, c.membershipId)}
                      give={give}
                      held={c.roles}
                      id={c.membershipId}
                      active={c.status === "active"}
                    />
                  </div>
                </details>
              )}
            </li>
          ))}
        </ul>
      </section>
      {give.length > 0 && (
        <section className="sheet grid gap-4 p-5" aria-labelledby="invite">
          <h2 id="invite">{say("company.invite")}</h2>
          <SeatsNote r={r} plan={desk.plan} />
          <InviteColleague action={inviteColleague} give={give} />
        </section>
      )}
    </div>
  );
}

/** Where all seats of the plan are taken: one more, for what is left of what is paid, or who can have it. */
function SeatsNote({ r, plan }: { r: PortalRequest; plan: Seats | null }) {
  if (!plan || plan.taken < plan.paidFor) return null;
  const say = sayOf(r);
  const payers = payersOf(r.file, r.viewer.company!.id).map((p) => p.name);
  const more = plan.price && `${r.base}/-/buy?price=${encodeURIComponent(plan.price)}&seats=${plan.paidFor + 1}&to=/-/company`;
  return (
    <p role="status">
      {say("company.plan-full", { n: plan.paidFor })}{" "}
      {maysPay(r.published.policy, r.viewer) ? (
        <Link className="link-plain" href={more ?? `${r.base}/plans`}>
          {say(more ? "company.one-more" : "plans.see")}
        </Link>
      ) : (
        payers.length > 0 && say("company.payers", { people: listIn(payers, say.locale) })
      )}
    </p>
  );
}
