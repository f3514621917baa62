/** One company's plan and money: what it has and why, what it was billed, and what can be done. */

import { amountOf } from "@/core/billing/change";
import { priceWords } from "@/core/billing/changes";
import { EVENT_KINDS, isEventKind } from "@/core/events/kinds";
import { eachOf } from "@/core/prices/cycles";
import { plusDays } from "@/core/prices/periods";
import { INVOICES } from "@/core/schema/books";
import { countriesIn, countryName } from "@/core/text/countries";
import { formatDate, formatMoney, plainAmount } from "@/core/text/format";
import { dateIn } from "@/core/time/relative";
import { buyerOf, customerOf, providerRow } from "@/data/billing/buyers";
import { creditOf } from "@/data/billing/credit";
import { lacksCountry } from "@/data/billing/due";
import { openedOf } from "@/data/billing/given-features";
import { allowancesOf } from "@/data/billing/ledger";
import { payersOf, seatsOf } from "@/data/billing/people";
import { type Standing, standingOf, subscriptionOf } from "@/data/billing/standing";
import { refundable } from "@/data/billing/write-books";
import type { LogRow } from "@/data/log/log";
import { readLog } from "@/data/log/log";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { STANDINGS, wantsLook } from "@/office/standings";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import { CompanyActs } from "./company-acts";
import { InvoiceActs } from "./invoice-acts";
import { MoneyTabs } from "./money-tabs";
import { TakeFeature } from "./take-feature";

/** One company's plan, invoices and what its plan opens, with why, as the agency sees it. */
export function CompanyMoneyPage({ p, company }: { p: OfficePortal; company: { readonly id: string; readonly name: string } }) {
  const { definition, policy } = p.live;
  const { currency, locale, timeZone } = definition.portal;
  const money = (n: number): string => formatMoney(n, currency, locale);
  const day = (d: string): string => formatDate(d, locale);
  const today = dateIn(p.now, timeZone);
  const standing = standingOf(p.file, definition, company.id, today);
  const stored = subscriptionOf(p.file, company.id);
  const life = stored?.life ?? null;
  const feature = (f: string): string => definition.features.find((x) => x.id === f)?.name ?? "a feature that is gone";
  const seats = seatsOf(p.file, company.id);
  const payers = payersOf(p.file, company.id);
  const prices = definition.prices
    .filter((x) => !x.retired)
    .map((x) => ({
      id: x.id,
      name: `${definition.plans.find((q) => q.id === x.plan)?.name ?? ""}, ${priceWords(x, money)}`,
      seats: x.per === "seat",
      least: x.least,
    }));
  const country = buyerOf(p.file, company.id)?.country ?? "";
  const account = providerRow(p.file)?.account;
  const keepsMethod = account !== undefined && Boolean(customerOf(p.file, company.id, account)?.method);
  const acts = actsFor(life?.state ?? null);
  /** Days within a reason, as the portal writes them. */
  const worded = (why: string): string => why.replace(/\d{4}-\d\d-\d\d/g, day);
  const happened = readLog(p.file, p.owner, { company: company.id, limit: 500 })
    .filter((e) => isEventKind(e.kind) && EVENT_KINDS[e.kind].of === "money")
    .slice(0, 20);
  return (
    <div className="grid gap-8 [&>*]:min-w-0">
      <div>
        <h1>{company.name}</h1>
        <MoneyTrail p={p} />
      </div>
      <MoneyTabs at={p.at} />
      <section className="sheet grid gap-4 p-5" aria-labelledby="has">
        <PlanAndState standing={standing} day={day} />
        <ul className="grid gap-1 text-sm">
          {life && (
            <li>
              {`Pays ${money(amountOf(life.terms))} ${eachOf(life.terms.cycle)}, ${stored?.collect === "card" ? (keepsMethod ? "by what the provider keeps" : "by card, but none is kept") : "outside"}; ${life.state === "trial" ? "free" : "paid"} until ${day(plusDays(life.paidUntil, -1))}.`}
              {life.next && ` From then on ${money(amountOf(life.next))}, ${definition.plans.find((x) => x.id === life.next!.plan)?.name}.`}
            </li>
          )}
          {!life && standing.plan && <li>Set by hand: nothing renews by itself.</li>}
          {seats && <li>{`${seats.taken} of ${seats.paidFor} seats are taken.`}</li>}
          {allowancesOf(p.file, standing, company.id, today).map((a) => (
            <li
              key={a.table}
            >{`${a.used} of ${a.limit} ${policy.schema.table(a.table).name.toLowerCase()} used${a.beside > 0 ? `, ${a.beside} bought beside it` : ""}; counted anew on ${day(a.again)}.`}</li>
          ))}
          <BilledIn p={p} company={company} country={country} locale={locale} />
          {creditOf(p.file, company.id) > 0 && <li>{`${money(creditOf(p.file, company.id))} to its credit.`}</li>}
          <li>
            {payers.length > 0 ? `May pay: ${payers.map((x) => x.name).join(", ")}.` : "Nobody of it may pay: none holds a role that may."}
          </li>
        </ul>
        <CompanyActs
          portal={p.slug}
          company={company.id}
          acts={acts}
          prices={prices}
          countries={countriesIn(locale)}
          country={country}
          features={definition.features.map((f) => ({ id: f.id, name: f.name }))}
        />
      </section>
      <OpenAndWhy standing={standing} feature={feature} worded={worded} p={p} company={company} day={day} />
      <InvoiceList p={p} company={company.id} money={money} />
      {happened.length > 0 && <MoneyHappened happened={happened} day={day} timeZone={timeZone} worded={worded} />}
    </div>
  );
}

type Acts = Parameters<typeof CompanyActs>[0]["acts"];
function actsFor(state: string | null): Acts {
  if (state === null) return ["plan", "feature", "credit", "country"];
  if (state === "paused") return ["resume", "feature", "credit", "country"];
  if (state === "lapsed") return ["plan", "days", "feature", "credit", "country"];
  if (state === "active" || state === "trial") return ["plan", "days", "feature", "credit", "country", "pause", "cancel"];
  return ["days", "feature", "credit", "country", "pause"];
}

function InvoiceList({ p, company, money }: { p: OfficePortal; company: string; money: (n: number) => string }) {
  const table = p.live.policy.schema.findTable(INVOICES);
  if (!table) return null;
  const { currency, locale } = p.live.definition.portal;
  const { records } = p.desk.list(table, {
    condition: { kind: "test", path: ["f_invoice_company"], operator: "is", operands: [{ kind: "literal", value: company }] },
    sort: [
      { field: "f_invoice_issued", descending: true },
      { field: "f_invoice_number", descending: true },
    ],
    limit: 36,
  });
  const states = table.fields.find((f) => f.id === "f_invoice_state")?.options.choices ?? [];
  const plain = (n: number): string => plainAmount(n, currency);
  return (
    <section className="grid gap-3" aria-labelledby="invoices">
      <h2 id="invoices">Invoices</h2>
      {records.length === 0 ? (
        <p className="quiet">None yet.</p>
      ) : (
        <FramedTable
          columns={[
            { name: "Number" },
            { name: "What" },
            { name: "Issued" },
            { name: "State" },
            { name: "Total", num: true },
            { name: "Acts", unseen: true },
          ]}
        >
          {records.map((x) => {
            const left = refundable(p.file, x.id)[0]?.left ?? 0;
            const state = String(x.fields.f_invoice_state);
            return (
              <tr key={x.id}>
                <td className="font-medium">{String(x.fields.f_invoice_number)}</td>
                <td className="whitespace-normal!" data-label="What">
                  {String(x.fields.f_invoice_what ?? "")}
                </td>
                <td data-label="Issued">{formatDate(String(x.fields.f_invoice_issued), locale)}</td>
                <td data-label="State" className={state === "open" ? "font-medium text-accent" : ""}>
                  {states.find((c) => c.id === state)?.name}
                </td>
                <td className="num" data-label="Total">
                  {money(Number(x.fields.f_invoice_total ?? 0))}
                </td>
                <td>
                  <InvoiceActs
                    portal={p.slug}
                    company={company}
                    invoice={{ id: x.id, number: String(x.fields.f_invoice_number), open: state === "open" }}
                    refundable={left > 0 ? plain(left) : ""}
                  />
                </td>
              </tr>
            );
          })}
        </FramedTable>
      )}
    </section>
  );
}

interface OpenAndWhyProps {
  readonly standing: Standing;
  readonly feature: (f: string) => string;
  readonly worded: (why: string) => string;
  readonly p: OfficePortal;
  readonly company: { id: string; name: string };
  readonly day: (d: string) => string;
}

/** What is open to the company, and by what. */
function OpenAndWhy({ standing, feature, worded, p, company, day }: OpenAndWhyProps) {
  return (
    <section className="grid gap-3" aria-labelledby="open">
      <h2 id="open">What is open, and why</h2>
      {standing.why.length === 0 ? (
        <p className="quiet">Nothing that needs a feature.</p>
      ) : (
        <ul className="sheet divide-y divide-base-300 px-5 text-sm">
          {standing.why.map((o) => (
            <li key={o.feature} className="py-2.5">
              <span className="font-medium">{feature(o.feature)}</span>, <span className="quiet">{worded(o.why)}</span>
            </li>
          ))}
          {openedOf(p.file, p.owner, company.id)
            .filter((o) => o.kind === "feature")
            .map((o) => (
              <li key={o.id} className="flex flex-wrap items-center justify-between gap-3 py-2.5">
                <span className="quiet">
                  {feature(o.ref)}: {o.why}
                  {o.until && `, until ${day(o.until)}`}
                </span>
                <TakeFeature portal={p.slug} company={company.id} given={o.id} name={feature(o.ref)} />
              </li>
            ))}
        </ul>
      )}
    </section>
  );
}

/** Where this stands, and what it tells. */
function MoneyTrail({ p }: { p: OfficePortal }) {
  return (
    <p className="quiet mt-1">
      <Link className="link-plain" href={`${p.at}/plans/money`}>
        Money
      </Link>
      {" › "}what it has, what it was billed, and what can be done
    </p>
  );
}

/** The plan and how it stands. */
function PlanAndState({ standing, day }: { standing: Standing; day: (d: string) => string }) {
  return (
    <div className="flex flex-wrap items-baseline justify-between gap-3">
      <h2 id="has">{standing.plan?.name ?? "No plan"}</h2>
      <span className={wantsLook(standing.state) ? "font-medium text-accent" : ""}>
        {STANDINGS[standing.state]}
        {standing.until && `, ${standing.state === "lapsed" ? "since" : "until"} ${day(standing.until)}`}
      </span>
    </div>
  );
}

interface MoneyHappenedProps {
  readonly happened: LogRow[];
  readonly day: (d: string) => string;
  readonly timeZone: string;
  readonly worded: (why: string) => string;
}

/** What happened to its money. */
function MoneyHappened({ happened, day, timeZone, worded }: MoneyHappenedProps) {
  return (
    <section className="grid gap-3" aria-labelledby="log">
      <h2 id="log">What happened</h2>
      <ul className="sheet divide-y divide-base-300 px-5 text-sm">
        {happened.map((e) => (
          <li key={e.id} className="py-2.5">
            <span className="quiet tabular-nums">{day(dateIn(e.at, timeZone))}</span> {e.says}
            {e.detail && `: ${worded(e.detail)}`}
          </li>
        ))}
      </ul>
    </section>
  );
}

interface BilledInProps {
  readonly p: OfficePortal;
  readonly company: { id: string; name: string };
  readonly country: string;
  readonly locale: string;
}

/** The country that it is billed in. */
function BilledIn({ p, company, country, locale }: BilledInProps) {
  return (
    <li className={lacksCountry(p.file, company.id) ? "text-accent" : ""}>
      {country
        ? `Billed in ${countryName(country, locale)}.`
        : lacksCountry(p.file, company.id)
          ? "No billing country is known: the next invoice waits for it, since the tax depends on it."
          : "No billing country is known."}
    </li>
  );
}
