/** The first page after signing in: what is open, in numbers, and the newest of each. */

import { withArticle } from "@/core/text/article";
import { formatDate, listIn } from "@/core/text/format";
import { anchorDate, dateIn } from "@/core/time/relative";
import { allowancesOf, type standingOf } from "@/data/billing/standing";
import type { PortalRequest } from "@/identity/request";
import { FieldValue } from "@/ui/field-value";
import { Link } from "@/ui/link";
import { columns, localeOf, missingFeatures, openTables, plannedTables, sayOf, standingHere } from "../queries";
import { PlanNote } from "./plan-note";

export function Home({ r }: { r: PortalRequest }) {
  const { definition } = r.published;
  const { viewer } = r;
  const locale = localeOf(r);
  const say = sayOf(r);
  const number = new Intl.NumberFormat(locale.locale);
  const today = dateIn(viewer.now, viewer.timeZone);
  const standing = standingHere(r);
  const allowances = standing ? allowancesOf(r.file, standing, viewer.company!.id, anchorDate("start of month", today)) : [];
  const tables = openTables(r).filter((t) => t.kind === "ordinary");
  const planned = plannedTables(r);
  return (
    <div className="grid gap-8">
      <div className="flex flex-wrap items-end justify-between gap-4">
        <div>
          <h1>{viewer.company?.name ?? definition.portal.name}</h1>
          <p className="quiet mt-1">
            {viewer.person
              ? say("home.welcome", { person: viewer.person.name.split(" ")[0]! })
              : definition.brand.motto || say("home.welcome-all")}
          </p>
        </div>
        {standing && <StandingSummary r={r} standing={standing} today={today} allowances={allowances} />}
      </div>
      {planned.length > 0 && standing && (
        <PlanNote
          say={say}
          base={r.base}
          things={listIn(
            planned.map((t) => t.name),
            locale.locale,
          )}
          features={[...new Set(planned.flatMap((t) => missingFeatures(r, t)))]}
          lapsed={standing.state === "lapsed"}
        />
      )}
      {tables.length === 0 && (
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
      )}
      <div className="grid gap-5 md:grid-cols-2">
        {tables.map((t) => {
          const total = r.desk.count(t);
          const cols = columns(r, t);
          const date = cols.find((f) => f.type === "date");
          const note = cols.find((f) => f.type === "choice") ?? cols[1];
          const newest = r.desk.list(t, {
            limit: 4,
            ...(date ? { sort: [{ field: date.id, descending: true }] } : {}),
          }).records;
          return (
            <section key={t.id} className="sheet flex flex-col overflow-hidden" aria-labelledby={`h-${t.id}`}>
              <div className="flex items-baseline justify-between gap-3 border-b border-base-300 px-4 py-3">
                <h2 id={`h-${t.id}`}>
                  <Link href={`${r.base}/${t.slug}`} className="hover:underline">
                    {t.name}
                  </Link>
                </h2>
                <Link
                  href={`${r.base}/${t.slug}`}
                  className="link-plain tabular-nums"
                  aria-label={say("home.all", { total, things: t.name })}
                >
                  {number.format(total)}
                </Link>
              </div>
              {newest.length === 0 ? (
                <p className="quiet px-4 py-4">{say("home.none-yet")}</p>
              ) : (
                <ul>
                  {newest.map((x) => (
                    <li key={x.id} className="flex items-center justify-between gap-3 border-b border-base-300/60 px-4 py-2 last:border-0">
                      <Link className="link-plain max-w-[65%] shrink-0 truncate" href={`${r.base}/${t.slug}/${x.id}`}>
                        {r.desk.label(t, x)}
                      </Link>
                      <span className="min-w-0 truncate text-sm">
                        {note && <FieldValue field={note} value={x.fields[note.id]} locale={locale} filesAt={r.base} />}
                      </span>
                    </li>
                  ))}
                </ul>
              )}
              {r.desk.may(t, "add") && (
                <div className="mt-auto border-t border-base-300/60 px-4 py-2.5">
                  <Link className="link-plain font-medium" href={`${r.base}/${t.slug}/new`}>
                    {say("list.add", { a_thing: withArticle(t.singular) })}
                  </Link>
                </div>
              )}
            </section>
          );
        })}
      </div>
    </div>
  );
}

type StandingProps = {
  r: PortalRequest;
  standing: ReturnType<typeof standingOf>;
  today: string;
  allowances: ReturnType<typeof allowancesOf>;
};

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

function StandingSummary({ r, standing, today, allowances }: StandingProps) {
  const say = sayOf(r);
  const day = standing.until ? formatDate(standing.until, say.locale) : null;
  const days = standing.until ? Math.round((Date.parse(standing.until) - Date.parse(today)) / 86_400_000) : 0;
  const words = {
    trial: say("standing.trial", { days }),
    active: day ? say("standing.until", { day }) : "",
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
          <dd className="font-medium tabular-nums">{say("home.used", { used: a.used, limit: a.limit })}</dd>
        </div>
      ))}
    </dl>
  );
}
