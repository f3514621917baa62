import { maysPay } from "@/core/access/payer";
import type { Offer, Plan, Price } from "@/core/definition/parts/plans";
import { isOffered, offeredPrices } from "@/core/prices/prices";
import { formatDate, formatMoney } from "@/core/text/format";
import type { Say } from "@/core/words/words";
import { providerRow } from "@/data/billing/buyers";
import { type Standing, subscriptionOf } from "@/data/billing/standing";
import type { PortalRequest } from "@/identity/requests/request";
import { Link } from "@/ui/link";
import { localeOf, sayOf, standingHere } from "../queries";
import { mailTo, marked } from "./marked";

/** What the agency sells, and what the viewer's company is on; with the way to have it, where something can be paid here. */
export function Plans({ r }: { r: PortalRequest }) {
  const { definition } = r.published;
  const standing = standingHere(r);
  const say = sayOf(r);
  const sells = providerRow(r.file) !== undefined;
  const pays = maysPay(r.published.policy, r.viewer);
  // A visitor may choose first, and sign in or join on the way.
  const chooses = sells && (pays || r.viewer.kind === "visitor");
  const offers = definition.offers.filter((o) => !o.retired && o.opens.kind !== "record");
  return (
    <div className="grid gap-8">
      <div>
        <h1>{say("plans.title")}</h1>
        <p className="quiet mt-1 max-w-prose">
          {standingWords(say, r.viewer.company?.name ?? "", standing)}{" "}
          {!chooses &&
            definition.brand.contact &&
            marked(say.marked("plans.to-change", { contact: definition.brand.contact }, { mail: mailTo }))}
          {pays && (
            <Link className="link-plain" href={`${r.base}/-/billing`}>
              {say("frame.billing")}
            </Link>
          )}
        </p>
      </div>
      <div className="grid gap-5 md:grid-cols-3">
        {definition.plans
          .filter((p) => isOffered(p, r.viewer.company?.id ?? null) || standing?.plan?.id === p.id)
          .map((p) => (
            <PlanCard key={p.id} r={r} plan={p} standing={standing} chooses={chooses} has={pays ? priceHeld(r) : null} />
          ))}
      </div>
      {offers.map((o) => (
        <OfferRow key={o.id} r={r} offer={o} pays={pays} sells={sells} />
      ))}
    </div>
  );
}

/** The price that the company goes on paying as it is: choosing it once more would do nothing. More seats of it are chosen like anything else. */
function priceHeld(r: PortalRequest): string | null {
  const life = r.viewer.company ? subscriptionOf(r.file, r.viewer.company.id)?.life : undefined;
  const price = r.published.definition.prices.find((x) => x.id === life?.terms.price);
  const goesOn = (life?.state === "active" || life?.state === "trial") && life.next === null;
  return goesOn && price?.per === "company" ? price.id : null;
}

interface CardProps {
  r: PortalRequest;
  plan: Plan;
  standing: Standing | null;
  chooses: boolean;
  /** The price they have. */
  has: string | null;
}

function PlanCard({ r, plan: p, standing, chooses, has }: CardProps) {
  const { definition, policy } = r.published;
  const { locale } = localeOf(r);
  const { currency } = definition.portal;
  const say = sayOf(r);
  const money = (n: number): string => formatMoney(n, currency, locale);
  const prices = offeredPrices(definition.prices, p.id);
  const choices = prices.filter((x) => x.id !== has);
  const featureName = (id: string): string => definition.features.find((f) => f.id === id)?.name ?? id;
  const theirs = standing?.plan?.id === p.id;
  return (
    <section className="sheet flex flex-col gap-3 p-5" aria-label={p.name}>
      <div className="flex items-center justify-between gap-2">
        <h2>{p.name}</h2>
        {theirs && <span className="tag">{say(standing?.state === "lapsed" ? "plans.ended" : "plans.yours")}</span>}
      </div>
      <p className="quiet md:min-h-12">{p.about}</p>
      <Prices say={say} prices={prices} money={money} fresh={!standing?.plan} />
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
      {chooses && choices.length > 0 && (
        <div className="mt-auto flex flex-wrap gap-2 pt-2">
          {choices.map((x, i) => (
            <Link
              key={x.id}
              className={`btn btn-sm ${i === 0 ? "btn-primary" : ""}`}
              href={`${r.base}/-/buy?price=${encodeURIComponent(x.id)}&seats=${x.least}`}
              aria-label={`${say("plans.choose", { plan: p.name })}: ${say("plans.choose-price", { price: money(x.amount), per: per(say, x) })}`}
            >
              {say("plans.choose-price", { price: money(x.amount), per: per(say, x) })}
            </Link>
          ))}
        </div>
      )}
    </section>
  );
}

function OfferRow({ r, offer: o, pays, sells }: { r: PortalRequest; offer: Offer; pays: boolean; sells: boolean }) {
  const say = sayOf(r);
  const { currency, locale } = r.published.definition.portal;
  const own = !pays && r.viewer.kind === "person" && o.buyer !== "company";
  const can = sells && (pays || own || (r.viewer.kind === "visitor" && o.buyer === "anybody"));
  return (
    <section className="sheet flex flex-wrap items-center justify-between gap-3 p-5" aria-label={o.name}>
      <div>
        <h2>{o.name}</h2>
        <p className="quiet">{o.about}</p>
      </div>
      <div className="flex items-center gap-4">
        <p className="title text-xl font-semibold">{formatMoney(o.price, currency, locale)}</p>
        {can && (
          <Link className="btn btn-sm" href={`${r.base}/-/buy?offer=${encodeURIComponent(o.id)}${own ? "&own=1" : ""}`}>
            {say("plans.buy")}
            <span className="sr-only"> {o.name}</span>
          </Link>
        )}
      </div>
    </section>
  );
}

const per = (say: Say, p: Price): string => say(`plans.${p.per === "seat" ? "seat-" : "a-"}${p.cycle}`);

/** The price of a month first, or what there is; then what else, how long a trial lasts, and what is added to it. */
function Prices({ say, prices, money, fresh }: { say: Say; prices: readonly Price[]; money: (n: number) => string; fresh: boolean }) {
  const [first, ...others] = prices;
  if (!first) return <p className="title text-2xl font-semibold">{say("plans.no-price")}</p>;
  return (
    <p>
      <span className="title text-2xl font-semibold">{first.amount === 0 ? say("plans.free") : money(first.amount)}</span>{" "}
      {first.amount > 0 && <span className="quiet">{per(say, first)}</span>}
      {others.map((p) => (
        <span key={p.id} className="quiet block">
          {say("plans.or", { price: money(p.amount), per: per(say, p) })}
        </span>
      ))}
      {first.least > 1 && <span className="quiet block">{say("plans.least", { n: first.least })}</span>}
      {fresh && first.trialDays > 0 && <span className="quiet block">{say("plans.trial", { days: first.trialDays })}</span>}
      {first.setup > 0 && <span className="quiet block">{say("plans.setup", { price: money(first.setup) })}</span>}
    </p>
  );
}

function standingWords(say: Say, company: string, standing: Standing | null): string {
  if (!standing?.plan) return say("plans.what");
  const on = { company, plan: standing.plan.name };
  if (standing.state === "lapsed") return say("plans.on-ended", on);
  return standing.until ? say("plans.on-until", { ...on, day: formatDate(standing.until, say.locale) }) : say("plans.on", on);
}
