/** The first page after signing in: what is open, in numbers, and the newest of each. */

import { withArticle } from "@/core/text/article";
import { formatDate } from "@/core/text/format";
import { anchorDate, dateIn } from "@/core/time/relative";
import { allowancesOf, standingOf } from "@/data/billing/standing";
import type { PortalRequest } from "@/identity/request";
import { FieldValue } from "@/ui/field-value";
import { Link } from "@/ui/link";
import { columns, localeOf, missingFeatures, openTables, plannedTables } from "../queries";
import { PlanNote } from "./plan-note";

export function Home({ r }: { r: PortalRequest }) {
  const { definition } = r.published;
  const { viewer } = r;
  const locale = localeOf(r);
  const number = new Intl.NumberFormat(locale.locale);
  const today = dateIn(viewer.now, viewer.timeZone);
  const standing = viewer.company ? standingOf(r.file, definition, viewer.company.id, today) : null;
  const allowances = standing ? allowancesOf(r.file, standing, viewer.company!.id, anchorDate("start of month", today)) : [];
  const tables = openTables(r).filter((t) => t.kind === "ordinary");
  const planned = plannedTables(r);
  return (
    <div className="grid gap-8">
      <div className="flex flex-wrap items-end justify-between gap-4">
        <div>
          <h1>{viewer.company?.name ?? definition.portal.name}</h1>
          <p className="quiet mt-1">
            {viewer.person ? `Welcome, ${viewer.person.name.split(" ")[0]}.` : definition.brand.motto || "Welcome."}
          </p>
        </div>
        {standing && <StandingSummary r={r} standing={standing} today={today} allowances={allowances} />}
      </div>
      {planned.length > 0 && standing && (
        <PlanNote
          base={r.base}
          what={listWords(planned.map((t) => t.name))}
          features={[...new Set(planned.flatMap((t) => missingFeatures(r, t)))]}
          lapsed={standing.state === "lapsed"}
        />
      )}
      {tables.length === 0 && (
        <div className="sheet p-6">
          <p className="font-semibold">{viewer.person ? "Nothing is open to you here yet." : "Sign in to see what is yours."}</p>
          <p className="quiet mt-1">
            {viewer.person
              ? `${viewer.membershipId ? "Your roles do not open any list." : "Your account belongs to no company here."} ${definition.brand.contact ? `Ask ${definition.brand.contact} if you expected one.` : ""}`
              : "The people of client companies sign in with the address they were invited at."}
          </p>
          {!viewer.person && (
            <Link className="btn btn-primary mt-4" href={`${r.base}/sign-in`}>
              Sign in
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
                <Link href={`${r.base}/${t.slug}`} className="link-plain tabular-nums" aria-label={`All ${total} ${t.name}`}>
                  {number.format(total)}
                </Link>
              </div>
              {newest.length === 0 ? (
                <p className="quiet px-4 py-4">There are none yet that you can see.</p>
              ) : (
                <ul>
                  {newest.map((x) => (
                    <li key={x.id} className="flex items-center justify-between gap-3 border-b border-base-300/60 px-4 py-2 last:border-0">
                      <Link className="link-plain max-w-[65%] shrink-0 truncate" href={`${r.base}/${t.slug}/${x.id}`}>
                        {r.desk.label(t, x)}
                      </Link>
                      <span className="min-w-0 truncate text-sm">
                        {note && <FieldValue field={note} value={x.fields[note.id]} locale={locale} />}
                      </span>
                    </li>
                  ))}
                </ul>
              )}
              {r.desk.may(t, "add") && !r.seeAs && (
                <div className="mt-auto border-t border-base-300/60 px-4 py-2.5">
                  <Link className="link-plain font-medium" href={`${r.base}/${t.slug}/new`}>
                    Add {withArticle(t.singular)}
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

const listWords = (names: string[]): string =>
  names.length < 2 ? (names[0] ?? "") : `${names.slice(0, -1).join(", ")} and ${names[names.length - 1]}`;

type StandingProps = {
  r: PortalRequest;
  standing: ReturnType<typeof standingOf>;
  today: string;
  allowances: ReturnType<typeof allowancesOf>;
};

function StandingSummary({ r, standing, today, allowances }: StandingProps) {
  const { locale } = localeOf(r);
  const days = standing.until ? Math.round((Date.parse(standing.until) - Date.parse(today)) / 86_400_000) : null;
  const words = {
    trial: `Trial, ${days} ${days === 1 ? "day" : "days"} left`,
    active: standing.until ? `until ${formatDate(standing.until, locale)}` : "",
    grace: `Payment is due; open until ${standing.until ? formatDate(standing.until, locale) : "further notice"}`,
    lapsed: "ended",
    none: "no plan",
  }[standing.state];
  return (
    <dl className="flex flex-wrap gap-x-6 gap-y-1 text-sm">
      <div>
        <dt className="quiet">Plan</dt>
        <dd className="font-medium">
          <Link href={`${r.base}/plans`} className="link-plain">
            {standing.plan?.name ?? "None"}
          </Link>
          {words && `, ${words}`}
        </dd>
      </div>
      {allowances.map((a) => (
        <div key={a.table}>
          <dt className="quiet">{r.published.policy.schema.table(a.table).name} this month</dt>
          <dd className="font-medium tabular-nums">
            {a.used} of {a.limit}
          </dd>
        </div>
      ))}
    </dl>
  );
}
