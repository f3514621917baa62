import { formatDate, formatMoney } from "@/core/text/format";
import { dateIn } from "@/core/time/relative";
import { standingOf } from "@/data/billing/standing";
import type { PortalRequest } from "@/identity/request";
import { localeOf } from "../queries";

/** What the agency sells, and what the viewer's company is on. */
export function Plans({ r }: { r: PortalRequest }) {
  const { definition, policy } = r.published;
  const { locale } = localeOf(r);
  const { currency } = definition.portal;
  const standing = r.viewer.company ? standingOf(r.file, definition, r.viewer.company.id, dateIn(r.viewer.now, r.viewer.timeZone)) : null;
  const featureName = (id: string): string => definition.features.find((f) => f.id === id)?.name ?? id;
  return (
    <div className="grid gap-8">
      <div>
        <h1>Plans</h1>
        <p className="quiet mt-1 max-w-prose">
          {standing?.plan
            ? `${r.viewer.company!.name} is on ${standing.plan.name}${standing.state === "lapsed" ? ", which ended" : ""}${standing.until && standing.state !== "lapsed" ? `, until ${formatDate(standing.until, locale)}` : ""}.`
            : "What each plan opens."}{" "}
          {definition.brand.contact && (
            <>
              To change, write to{" "}
              <a className="link-plain" href={`mailto:${definition.brand.contact}`}>
                {definition.brand.contact}
              </a>
              .
            </>
          )}
        </p>
      </div>
      <div className="grid gap-5 md:grid-cols-3">
        {definition.plans.map((p) => (
          <section key={p.id} className="sheet flex flex-col gap-3 p-5" aria-label={p.name}>
            <div className="flex items-center justify-between gap-2">
              <h2>{p.name}</h2>
              {standing?.plan?.id === p.id && <span className="tag">{standing.state === "lapsed" ? "Ended" : "Your plan"}</span>}
            </div>
            <p className="quiet">{p.about}</p>
            <p>
              <span className="title text-2xl font-semibold">{formatMoney(p.month, currency, locale)}</span>{" "}
              <span className="quiet">a month</span>
              <br />
              <span className="quiet">or {formatMoney(p.year, currency, locale)} a year</span>
            </p>
            <ul className="grid gap-1 border-t border-base-300 pt-3">
              {p.features.map((f) => (
                <li key={f}>{featureName(f).replace(/^./, (c) => c.toUpperCase())}</li>
              ))}
              {p.allowances.map((a) => (
                <li key={a.table}>
                  {a.perMonth} {policy.schema.findTable(a.table)?.name.toLowerCase()} a month
                </li>
              ))}
            </ul>
          </section>
        ))}
      </div>
      {definition.offers.map((o) => (
        <section key={o.id} className="sheet flex flex-wrap items-baseline justify-between gap-3 p-5" aria-label={o.name}>
          <div>
            <h2>{o.name}</h2>
            <p className="quiet">{o.about}</p>
          </div>
          <p className="title text-xl font-semibold">{formatMoney(o.price, currency, locale)}</p>
        </section>
      ))}
    </div>
  );
}
