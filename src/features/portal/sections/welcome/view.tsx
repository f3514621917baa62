/** The company's name, a word of welcome, its plan; and why there is nothing, where nothing is open. */
import type { SectionOf } from "@/core/pages/page";
import { listIn } from "@/core/text/format";
import type { PortalRequest } from "@/identity/requests/request";
import { Link } from "@/ui/link";
import { localeOf, missingFeatures, openTables, plannedTables, sayOf, standingHere } from "../../queries";
import { PlanNote } from "../../ui/plan-note";
import { headingId, type SectionProps } from "../at";
import { StandingSummary } from "../standing/view";
import { unpaidHere } from "./unpaid";

export function WelcomeSection({ at, section }: SectionProps<SectionOf<"welcome">>) {
  const { r } = at;
  const { definition } = r.published;
  const { viewer } = r;
  const say = sayOf(r);
  const standing = standingHere(r);
  const planned = plannedTables(r);
  const nothing = openTables(r).every((t) => t.kind !== "ordinary");
  const title = section.title || (viewer.company?.name ?? definition.portal.name);
  return (
    <>
      <div className="flex flex-wrap items-end justify-between gap-4">
        <div>
          {at.head ? <h1 id={headingId(section)}>{title}</h1> : <h2 id={headingId(section)}>{title}</h2>}
          <p className="quiet mt-1">
            {viewer.person
              ? say("home.welcome", { person: viewer.person.name.split(" ")[0]! })
              : definition.brand.motto || say("home.welcome-all")}
          </p>
        </div>
        {standing && definition.plans.length > 0 && <StandingSummary r={r} standing={standing} />}
      </div>
      {planned.length > 0 && standing && (
        <PlanNote
          say={say}
          base={r.base}
          things={listIn(
            planned.map((t) => t.name),
            localeOf(r).locale,
          )}
          features={[...new Set(planned.flatMap((t) => missingFeatures(r, t)))]}
          lapsed={standing.state === "lapsed"}
        />
      )}
      {nothing && <NothingOpen r={r} />}
    </>
  );
}

/** What somebody to whom nothing is open can do about it: sign in, choose a plan, or ask. */
function NothingOpen({ r }: { r: PortalRequest }) {
  const { definition } = r.published;
  const { viewer } = r;
  const say = sayOf(r);
  const unpaid = unpaidHere(r);
  if (unpaid) {
    const company = viewer.company?.name ?? "";
    return (
      <div className="sheet p-6">
        <p className="font-semibold">{say("home.nothing-open")}</p>
        <p className="quiet mt-1">
          {say(unpaid.why, { company })}
          {!unpaid.pays && ` ${say("home.plan-payer", { company })}`}
        </p>
        <Link className={`btn mt-4 ${unpaid.pays ? "btn-primary" : ""}`} href={`${r.base}/plans`}>
          {say(unpaid.pays ? "home.plan-way" : "plans.see")}
        </Link>
      </div>
    );
  }
  return (
    <div className="sheet p-6">
      <p className="font-semibold">{say(viewer.person ? "home.nothing-open" : "home.sign-in")}</p>
      <p className="quiet mt-1">
        {whyNothing(r)}
        {viewer.person?.status === "active" && definition.brand.contact && ` ${say("home.ask", { contact: definition.brand.contact })}`}
      </p>
      {!viewer.person && (
        <Link className="btn btn-primary mt-4" href={`${r.base}/sign-in`}>
          {say("door.sign-in")}
        </Link>
      )}
    </div>
  );
}

/** Only see-as shows somebody who is not active: whoever is not cannot sign in. */
function whyNothing(r: PortalRequest): string {
  const { person, membershipId } = r.viewer;
  const say = sayOf(r);
  if (!person) return say("home.who-signs-in");
  const name = { person: person.name.split(" ")[0]! };
  switch (person.status) {
    case "invited":
      return say("home.invited", name);
    case "awaiting approval":
      return say("home.waiting", name);
    case "expired":
      return say("home.expired", name);
    case "inactive":
      return say("home.inactive", name);
    case "active":
      return say(membershipId ? "home.no-list" : "home.no-company");
  }
}
