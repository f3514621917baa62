/** What is sold: features, plans with their prices, what is bought once, and the rules of paying. All of it in the draft until it is published. */

import { config } from "@/config";
import { EVERYONE } from "@/core/access/rules";
import { priceWords } from "@/core/billing/changes";
import type { Definition } from "@/core/definition/definition";
import { yearOf } from "@/core/prices/prices";
import type { Schema } from "@/core/schema/types";
import { countriesIn } from "@/core/text/countries";
import { formatMoney, plainAmount } from "@/core/text/format";
import { dateIn } from "@/core/time/relative";
import { draftOf } from "@/data/definition/draft";
import { draftMoves } from "@/data/definition/versions";
import { type DirectoryCompany, directory } from "@/data/people/directory";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { DraftSteps } from "@/office/ui/draft-steps";
import { plural } from "@/office/words";
import { shownAccount } from "@/orders/account";
import { providerOf } from "@/services/payments";
import { Empty } from "@/ui/empty";
import { Link } from "@/ui/link";
import { FeatureList } from "./feature-list";
import { MoneyTabs } from "./money-tabs";
import { PlanForm } from "./plan-form";
import { AccountPart, CompaniesPart, OffersPart } from "./plans-parts";
import { PriceList } from "./price-list";
import { RulesForm } from "./rules-form";

interface Props {
  p: OfficePortal;
  params: { slug: string };
}

/** Features, plans with their prices, and the rules of paying, as they are drafted. */
export async function PlansPage({ p }: Props) {
  const { definition: d, revision } = draftOf(p.file, p.owner);
  const live = p.live.definition;
  const { currency, locale, timeZone } = d.portal;
  const { companies } = directory(p.file, p.owner, dateIn(p.now, timeZone));
  const { schema } = p.live.policy;
  const money = (n: number): string => formatMoney(n, currency, locale);
  const provider = providerOf(config());
  const account = shownAccount(p.file, p.owner);
  const published = new Set(live.prices.map((x) => x.id));
  const named = {
    features: d.features,
    tables: schema.tables.filter((t) => t.kind === "ordinary").map((t) => ({ id: t.id, name: t.name })),
    companies: companies.map((c) => ({ id: c.id, name: c.name })),
  };
  return (
    <div className="grid gap-8 [&>*]:min-w-0">
      <div className="flex flex-wrap items-end justify-between gap-3">
        <div>
          <h1>Plans</h1>
          <p className="quiet mt-1 max-w-prose">
            What companies pay for, and what each plan opens. A published price is never changed: it is retired, and whoever pays it keeps
            it.
          </p>
        </div>
        <DraftSteps portal={p.slug} revision={revision} parts={["plans"]} {...draftMoves(p.file, p.owner, ["plans"])} />
      </div>
      <MoneyTabs at={p.at} />
      <PlansPart
        p={p}
        d={d}
        companies={companies}
        schema={schema}
        revision={revision}
        money={money}
        published={published}
        currency={currency}
        named={named}
      />
      {provider && <AccountPart account={account} p={p} provider={provider} locale={locale} timeZone={timeZone} />}
      {companies.length > 0 && live.plans.length > 0 && <CompaniesPart companies={companies} p={p} locale={locale} live={live} />}
      <section aria-labelledby="features" className="grid gap-3">
        <h2 id="features">Features</h2>
        <p className="quiet max-w-prose text-sm">
          A grant, a page or a section may need a feature; plans open them. The names are read by clients.
        </p>
        <FeatureList
          portal={p.slug}
          revision={revision}
          features={d.features.map((f) => ({ id: f.id, name: f.name, needed: neededBy(p, d, f.id) }))}
        />
      </section>
      <OffersPart d={d} money={money} schema={schema} p={p} revision={revision} currency={currency} live={live} named={named} />
      <section aria-labelledby="rules" className="grid gap-3">
        <h2 id="rules">Rules of paying</h2>
        <RulesForm
          key={revision}
          portal={p.slug}
          revision={revision}
          billing={d.billing}
          roles={d.roles.filter((r) => r.side === "client" && r.id !== EVERYONE).map((r) => ({ id: r.id, name: r.name }))}
          countries={[...countriesIn(locale)]}
        />
      </section>
    </div>
  );
}

function contents(d: Definition, x: Definition["plans"][number], table: (id: string) => string): string {
  const opens = x.features.map((f) => d.features.find((y) => y.id === f)?.name ?? "a feature that is gone");
  const counts = x.allowances.map(
    (a) => `${a.perMonth} ${table(a.table)}${a.filter ? " of a kind" : ""} a month${a.by === "period" ? " of the subscription" : ""}`,
  );
  const seats = x.seats === null ? [] : [`${x.seats} ${x.seats === 1 ? "seat" : "seats"}`];
  const some = x.offered === "all" ? [] : [`offered to ${x.offered.length === 1 ? "one company" : `${x.offered.length} companies`}`];
  return [opens.length > 0 ? `Opens ${opens.join(", ")}` : "Opens nothing", ...counts, ...seats, ...some].join("; ");
}

function neededBy(p: OfficePortal, d: Definition, id: string): string {
  const grants = d.grants.filter((g) => g.feature === id).length;
  const plans = d.plans.filter((x) => x.features.includes(id)).length;
  return `${grants === 0 ? "needed by no grant" : `needed by ${plural(p, grants, "grant", "grants")}`}, opened by ${plans === 0 ? "no plan" : plural(p, plans, "plan", "plans")}`;
}

interface PlansPartProps {
  readonly p: OfficePortal;
  readonly d: Definition;
  readonly companies: DirectoryCompany[];
  readonly schema: Schema;
  readonly revision: number;
  readonly money: (n: number) => string;
  readonly published: Set<string>;
  readonly currency: string;
  readonly named: {
    features: { id: string; name: string }[];
    tables: { id: string; name: string }[];
    companies: { id: string; name: string }[];
  };
}

/** Plans with their prices. */
function PlansPart({ p, d, companies, schema, revision, money, published, currency, named }: PlansPartProps) {
  return (
    <section aria-labelledby="plans" className="grid gap-4">
      <div className="flex flex-wrap items-baseline justify-between gap-3">
        <h2 id="plans">Plans and prices</h2>
        <Link className="link-plain text-sm" href={`${p.at}/-/preview-plans`}>
          See them and the checkout as somebody finds them
        </Link>
      </div>
      {d.plans.length === 0 && (
        <div className="sheet">
          <Empty title="No plan yet">Grants that need no feature are open to every company.</Empty>
        </div>
      )}
      <div className="grid gap-4 lg:grid-cols-2">
        {d.plans.map((x) => {
          const on = companies.filter((c) => c.standing.plan?.id === x.id).length;
          const prices = d.prices.filter((y) => y.plan === x.id);
          const month = prices.find((y) => y.cycle === "month" && !y.retired);
          const year = prices.some((y) => y.cycle === "year" && !y.retired);
          return (
            <article key={x.id} className="sheet grid content-start gap-3 p-5" aria-label={x.name}>
              <div className="flex items-baseline justify-between gap-3">
                <h3 className="title text-lg font-semibold">{x.name}</h3>
                <span className="quiet text-sm tabular-nums">{on === 0 ? "nobody on it" : plural(p, on, "company", "companies")}</span>
              </div>
              {x.about && <p>{x.about}</p>}
              <p className="quiet text-sm">
                {contents(d, x, (t) => schema.findTable(t)?.name.toLowerCase() ?? "records of a table that is gone")}
              </p>
              <PriceList
                portal={p.slug}
                revision={revision}
                plan={{ id: x.id, name: x.name }}
                prices={prices.map((y) => ({
                  id: y.id,
                  words: priceWords(y, money),
                  retired: y.retired,
                  published: published.has(y.id),
                }))}
                proposed={month && !year ? plainAmount(yearOf(month.amount), currency) : ""}
              />
              <PlanForm key={JSON.stringify(x)} portal={p.slug} revision={revision} plan={x} {...named} />
            </article>
          );
        })}
      </div>
      <PlanForm portal={p.slug} revision={revision} plan={null} {...named} />
    </section>
  );
}
