import { formatDate, formatMoney } from "@/core/text/format";
import type { Say } from "@/core/words/words";
import type { standingOf } from "@/data/billing/standing";
import type { PortalRequest } from "@/identity/request";
import { localeOf, sayOf, standingHere } from "../queries";
import { mailTo, marked } from "./marked";

/** What the agency sells, and what the viewer's company is on. */
export function Plans({ r }: { r: PortalRequest }) {
  const { definition, policy } = r.published;
  const { locale } = localeOf(r);
  const { currency } = definition.portal;
  const standing = standingHere(r);
  const say = sayOf(r);
  const featureName = (id: string): string => definition.features.find((f) => f.id === id)?.name ?? id;
  return (
    <div className="grid gap-8">
      <div>
        <h1>{say("plans.title")}</h1>
        <p className="quiet mt-1 max-w-prose">
          {standingWords(say, r.viewer.company?.name ?? "", standing)}{" "}
          {definition.brand.contact && marked(say.marked("plans.to-change", { contact: definition.brand.contact }, { mail: mailTo }))}
        </p>
      </div>
      <div className="grid gap-5 md:grid-cols-3">
        {definition.plans.map((p) => (
          <section key={p.id} className="sheet flex flex-col gap-3 p-5" aria-label={p.name}>
            <div className="flex items-center justify-between gap-2">
              <h2>{p.name}</h2>
              {standing?.plan?.id === p.id && (
                <span className="tag">{say(standing.state === "lapsed" ? "plans.ended" : "plans.yours")}</span>
              )}
            </div>
            <p className="quiet md:min-h-12">{p.about}</p>
            <p>
              <span className="title text-2xl font-semibold">{formatMoney(p.month, currency, locale)}</span>{" "}
              <span className="quiet">{say("plans.a-month")}</span>
              <br />
              <span className="quiet">{say("plans.or-a-year", { price: formatMoney(p.year, currency, locale) })}</span>
            </p>
            <ul className="grid gap-1 border-t border-base-300 pt-3">
              {p.features.map((f) => (
                <li key={f}>{featureName(f).replace(/^./, (c) => c.toUpperCase())}</li>
              ))}
              {p.allowances.map((a) => (
                <li key={a.table}>
                  {say("plans.allowance", { number: a.perMonth, things: policy.schema.findTable(a.table)?.name.toLowerCase() ?? "" })}
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

function standingWords(say: Say, company: string, standing: ReturnType<typeof standingOf> | null): string {
  if (!standing?.plan) return say("plans.what");
  const on = { company, plan: standing.plan.name };
  if (standing.state === "lapsed") return say("plans.on-ended", on);
  return standing.until ? say("plans.on-until", { ...on, day: formatDate(standing.until, say.locale) }) : say("plans.on", on);
}
