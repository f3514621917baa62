import { isOffered, offeredPrices } from "@/core/billing/prices";
import type { Price } from "@/core/definition/parts/plans";
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
        {definition.plans
          .filter((p) => isOffered(p, r.viewer.company?.id ?? null) || standing?.plan?.id === p.id)
          .map((p) => (
            <section key={p.id} className="sheet flex flex-col gap-3 p-5" aria-label={p.name}>
              <div className="flex items-center justify-between gap-2">
                <h2>{p.name}</h2>
                {standing?.plan?.id === p.id && (
                  <span className="tag">{say(standing.state === "lapsed" ? "plans.ended" : "plans.yours")}</span>
                )}
              </div>
              <p className="quiet md:min-h-12">{p.about}</p>
              <Prices say={say} prices={offeredPrices(definition.prices, p.id)} money={(n) => formatMoney(n, currency, locale)} />
              <ul className="grid gap-1 border-t border-base-300 pt-3">
                {p.features.map((f) => (
                  <li key={f}>{featureName(f).replace(/^./, (c) => c.toUpperCase())}</li>
                ))}
                {p.seats !== null && <li>{say("plans.seats", { n: p.seats })}</li>}
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

/** The price of a month first, or what there is; then what else, how long a trial lasts, and what is added to it. */
function Prices({ say, prices, money }: { say: Say; prices: readonly Price[]; money: (n: number) => string }) {
  const [first, ...others] = prices;
  if (!first) return <p className="title text-2xl font-semibold">{say("plans.free")}</p>;
  const per = (p: Price): string => say(`plans.${p.per === "seat" ? "seat-" : "a-"}${p.cycle}`);
  return (
    <p>
      <span className="title text-2xl font-semibold">{money(first.amount)}</span> <span className="quiet">{per(first)}</span>
      {others.map((p) => (
        <span key={p.id} className="quiet block">
          {say("plans.or", { price: money(p.amount), per: per(p) })}
        </span>
      ))}
      {first.trialDays > 0 && <span className="quiet block">{say("plans.trial", { days: first.trialDays })}</span>}
      {first.setup > 0 && <span className="quiet block">{say("plans.setup", { price: money(first.setup) })}</span>}
    </p>
  );
}

function standingWords(say: Say, company: string, standing: ReturnType<typeof standingOf> | null): string {
  if (!standing?.plan) return say("plans.what");
  const on = { company, plan: standing.plan.name };
  if (standing.state === "lapsed") return say("plans.on-ended", on);
  return standing.until ? say("plans.on-until", { ...on, day: formatDate(standing.until, say.locale) }) : say("plans.on", on);
}
