/** The company's plan, until when, and what is used of it this month. */
import type { SectionOf } from "@/core/pages/page";
import { formatDate } from "@/core/text/format";
import { dateIn } from "@/core/time/relative";
import { allowancesOf } from "@/data/billing/ledger";
import type { standingOf } from "@/data/billing/standing";
import type { PortalRequest } from "@/identity/requests/request";
import { Link } from "@/ui/link";
import { sayOf, standingHere } from "../../queries";
import { headingId, type SectionProps } from "../at";

export function StandingSection({ at, section }: SectionProps<SectionOf<"standing">>) {
  const standing = standingHere(at.r);
  // Where nothing is sold, there is nothing to stand well or badly with.
  if (!standing || at.r.published.definition.plans.length === 0) return null;
  const title = section.title || sayOf(at.r)("home.plan");
  return (
    <div className="sheet grid gap-3 p-5">
      {at.head ? <h1 id={headingId(section)}>{title}</h1> : <h2 id={headingId(section)}>{title}</h2>}
      <StandingSummary r={at.r} standing={standing} />
    </div>
  );
}

export function StandingSummary({ r, standing }: { r: PortalRequest; standing: ReturnType<typeof standingOf> }) {
  const say = sayOf(r);
  const today = dateIn(r.viewer.now, r.viewer.timeZone);
  const allowances = allowancesOf(r.file, standing, r.viewer.company!.id, today);
  const day = standing.until ? formatDate(standing.until, say.locale) : null;
  const days = standing.until ? Math.round((Date.parse(standing.until) - Date.parse(today)) / 86_400_000) : 0;
  const words = {
    trial: say("standing.trial", { days }),
    active: day ? say("standing.until", { day }) : "",
    ending: day ? say("standing.ending", { day }) : "",
    paused: say("standing.paused"),
    grace: day ? say("standing.grace", { day }) : say("standing.grace-open"),
    lapsed: say("standing.lapsed"),
    none: say("standing.none"),
  }[standing.state];
  return (
    <dl className="flex flex-wrap gap-x-6 gap-y-1 text-sm">
      <div>
        <dt className="quiet">{say("home.plan")}</dt>
        <dd className="font-medium">
          <Link href={`${r.base}/plans`} className="link-plain">
            {standing.plan?.name ?? say("home.no-plan")}
          </Link>
          {words && `, ${words}`}
        </dd>
      </div>
      {allowances.map((a) => (
        <div key={a.table}>
          <dt className="quiet">{say("home.this-month", { things: r.published.policy.schema.table(a.table).name })}</dt>
          <dd className="font-medium tabular-nums">
            {say("home.used", { used: a.used, limit: a.limit })}
            {a.beside > 0 && ` ${say("home.beside", { n: a.beside })}`}
          </dd>
        </div>
      ))}
    </dl>
  );
}
