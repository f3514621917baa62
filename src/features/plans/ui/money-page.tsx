/** The owner's view of money: what comes in a month and what moved it, companies by plan and standing, what is overdue, who is near an allowance. */

import type { Policy } from "@/core/access/policy";
import type { Moved } from "@/core/billing/worth";
import { formatDate, formatMoney, minorDigits } from "@/core/text/format";
import { dateIn } from "@/core/time/relative";
import { lacksCountry } from "@/data/billing/due";
import { type MonthOf, months, type Near, nearAllowance, type Overdue, openOnes, worthAt } from "@/data/billing/money";
import { type DirectoryCompany, directory } from "@/data/people/directory";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { URGENCY } from "@/office/standings";
import { Empty } from "@/ui/empty";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import { CompanyCells } from "./company-cells";
import { MoneyTabs } from "./money-tabs";
import { MonthsChart } from "./months-chart";

const MOST = 200;

/** What companies pay, brought to a month: what is overdue, who is near an allowance, and twelve months of it. */
export function MoneyPage({ p }: { p: OfficePortal }) {
  const { definition, policy } = p.live;
  const { currency, locale, timeZone } = definition.portal;
  const money = (n: number): string => formatMoney(n, currency, locale);
  const signed = (n: number): string => (n > 0 ? `+${money(n)}` : n < 0 ? `−${money(-n)}` : money(0));
  const today = dateIn(p.now, timeZone);
  const { companies } = directory(p.file, p.owner, today);
  const year = months(p.file, p.owner, today, 12);
  const present = year.at(-1)!.moved;
  const paying = new Map(worthAt(p.file, p.owner, p.now).map((w) => [w.company, w.monthly]));
  const name = (id: string | null): string => companies.find((c) => c.id === id)?.name ?? "a guest";
  const overdue = openOnes(p.file, p.owner);
  const near = nearAllowance(p.file, p.owner, today);
  const monthName = (m: string): string =>
    new Intl.DateTimeFormat(locale, { month: "short", year: "numeric", timeZone: "UTC" }).format(Date.parse(`${m}-01T00:00:00Z`));
  const unbillable = companies.filter((c) => paying.has(c.id) && lacksCountry(p.file, c.id)).slice(0, 20);
  return (
    <div className="grid gap-8 [&>*]:min-w-0">
      <div>
        <h1>Money</h1>
        <p className="quiet mt-1 max-w-prose">
          What companies pay, brought to a month: a year counts as a twelfth of it. Tax is not in it.
        </p>
      </div>
      <MoneyTabs at={p.at} />
      <dl className="grid grid-cols-2 gap-4 md:grid-cols-5">
        <Figure name="A month, now" value={money(present.now)} strong />
        <Figure name="New this month" value={signed(present.come)} />
        <Figure name="Lost this month" value={signed(-present.gone)} />
        <Figure name="More and less" value={signed(present.more - present.less)} />
        <Figure name="Received this month" value={money(year.at(-1)!.received)} />
      </dl>
      <TwelveMonths year={year} monthName={monthName} money={money} currency={currency} signed={signed} />
      {unbillable.length > 0 && (
        <div role="status" className="alert alert-warning">
          <p>
            {"No billing country is known, so the next invoice waits: "}
            {unbillable.map((c, i) => (
              <span key={c.id}>
                {i > 0 && ", "}
                <Link className="link-plain" href={`${p.at}/plans/companies/${c.id}`}>
                  {c.name}
                </Link>
              </span>
            ))}
            .
          </p>
        </div>
      )}
      <PayingCompanies companies={companies} p={p} locale={locale} paying={paying} money={money} present={present} />
      <StillToBePaid overdue={overdue} p={p} name={name} today={today} locale={locale} money={money} near={near} policy={policy} />
    </div>
  );
}

function Figure({ name, value, strong = false }: { name: string; value: string; strong?: boolean }) {
  return (
    <div className="sheet grid content-between gap-1 p-4">
      <dt className="quiet text-sm">{name}</dt>
      <dd className={`title tabular-nums ${strong ? "text-2xl font-semibold" : "text-xl font-semibold"}`}>{value}</dd>
    </div>
  );
}

interface StillToBePaidProps {
  readonly overdue: Overdue[];
  readonly p: OfficePortal;
  readonly name: (id: string | null) => string;
  readonly today: string;
  readonly locale: string;
  readonly money: (n: number) => string;
  readonly near: Near[];
  readonly policy: Policy;
}

/** Who is overdue, and who is near an allowance. */
function StillToBePaid({ overdue, p, name, today, locale, money, near, policy }: StillToBePaidProps) {
  return (
    <div className="grid gap-8 lg:grid-cols-2 [&>*]:min-w-0">
      <section className="grid content-start gap-3" aria-labelledby="overdue">
        <h2 id="overdue">Still to be paid</h2>
        {overdue.length === 0 ? (
          <p className="quiet">Every invoice is paid.</p>
        ) : (
          <FramedTable columns={[{ name: "Invoice" }, { name: "Company" }, { name: "Due" }, { name: "To pay", num: true }]}>
            {overdue.slice(0, 100).map((i) => (
              <tr key={i.id}>
                <td className="font-medium">{i.number}</td>
                <td data-label="Company">
                  {i.company ? (
                    <Link className="link-plain" href={`${p.at}/plans/companies/${i.company}`}>
                      {name(i.company)}
                    </Link>
                  ) : (
                    "a guest"
                  )}
                </td>
                <td data-label="Due" className={i.due < today ? "font-medium text-accent" : ""}>
                  {formatDate(i.due, locale)}
                </td>
                <td className="num" data-label="To pay">
                  {money(i.toPay)}
                </td>
              </tr>
            ))}
          </FramedTable>
        )}
      </section>
      <section className="grid content-start gap-3" aria-labelledby="near">
        <h2 id="near">Near their allowance</h2>
        {near.length === 0 ? (
          <p className="quiet">Nobody has used most of one.</p>
        ) : (
          <FramedTable columns={[{ name: "Company" }, { name: "Of" }, { name: "Used", num: true }]}>
            {near.map((n) => (
              <tr key={`${n.company} ${n.table}`}>
                <td className="font-medium">
                  <Link className="link-plain" href={`${p.at}/plans/companies/${n.company}`}>
                    {name(n.company)}
                  </Link>
                </td>
                <td data-label="Of">{policy.schema.table(n.table).name}</td>
                <td className="num" data-label="Used">{`${n.used} of ${n.limit}${n.beside > 0 ? ` and ${n.beside}` : ""}`}</td>
              </tr>
            ))}
          </FramedTable>
        )}
      </section>
    </div>
  );
}

interface TwelveMonthsProps {
  readonly year: MonthOf[];
  readonly monthName: (m: string) => string;
  readonly money: (n: number) => string;
  readonly currency: string;
  readonly signed: (n: number) => string;
}

/** What came in, by months. */
function TwelveMonths({ year, monthName, money, currency, signed }: TwelveMonthsProps) {
  return (
    <section className="sheet grid gap-4 p-5" aria-labelledby="year">
      <h2 id="year">Twelve months</h2>
      <MonthsChart
        names={year.map((m) => monthName(m.month))}
        monthly={year.map((m) => m.moved.now)}
        received={year.map((m) => m.received)}
        worded={{ monthly: year.map((m) => money(m.moved.now)), received: year.map((m) => money(m.received)) }}
        scale={10 ** minorDigits(currency)}
      />
      <details>
        <summary className="link-plain w-fit cursor-pointer text-sm">The same as a table</summary>
        <div className="mt-3">
          <FramedTable
            columns={[
              { name: "Month" },
              { name: "At its end", num: true },
              { name: "New", num: true },
              { name: "Lost", num: true },
              { name: "More", num: true },
              { name: "Less", num: true },
              { name: "Received", num: true },
            ]}
          >
            {year.map((m) => (
              <tr key={m.month}>
                <td>{monthName(m.month)}</td>
                {[m.moved.now, m.moved.come, -m.moved.gone, m.moved.more, -m.moved.less, m.received].map((n, i) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: cells of one row never change places
                  <td key={i} className="num">
                    {i === 0 || i === 5 ? money(n) : n === 0 ? "" : signed(n)}
                  </td>
                ))}
              </tr>
            ))}
          </FramedTable>
        </div>
      </details>
    </section>
  );
}

interface PayingCompaniesProps {
  readonly companies: DirectoryCompany[];
  readonly p: OfficePortal;
  readonly locale: string;
  readonly paying: Map<string, number>;
  readonly money: (n: number) => string;
  readonly present: Moved;
}

/** Companies and what they pay. */
function PayingCompanies({ companies, p, locale, paying, money, present }: PayingCompaniesProps) {
  return (
    <section className="grid gap-3" aria-labelledby="companies">
      <h2 id="companies">Companies</h2>
      {companies.length === 0 ? (
        <div className="sheet">
          <Empty title="No company yet">They are made under People.</Empty>
        </div>
      ) : (
        <FramedTable columns={[{ name: "Company" }, { name: "Plan" }, { name: "Standing" }, { name: "A month", num: true }]}>
          {companies
            .toSorted((a, b) => URGENCY[a.standing.state] - URGENCY[b.standing.state] || (a.name < b.name ? -1 : 1))
            .slice(0, MOST)
            .map((c) => (
              <tr key={c.id}>
                <CompanyCells at={p.at} company={c} locale={locale} />
                <td className="num" data-label="A month">
                  {paying.has(c.id) ? money(paying.get(c.id)!) : <span className="quiet">nothing</span>}
                </td>
              </tr>
            ))}
          <tr className="font-semibold">
            <td>All</td>
            <td />
            <td />
            <td className="num" data-label="A month">
              {money(present.now)}
            </td>
          </tr>
        </FramedTable>
      )}
      {companies.length > MOST && <p className="quiet text-sm">{`And ${companies.length - MOST} more.`}</p>}
    </section>
  );
}
