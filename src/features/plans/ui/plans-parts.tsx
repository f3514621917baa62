/** Companies, what is sold once, and the account: parts of the page of plans. */
import { assertNever } from "@/core/assert-never";
import type { Definition } from "@/core/definition/definition";
import type { Schema } from "@/core/schema/types";
import { formatMoment, plainAmount } from "@/core/text/format";
import type { SubscriptionState } from "@/data/billing/standing";
import type { DirectoryCompany } from "@/data/people/directory";
import { portalAddress } from "@/identity/requests/addresses";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { URGENCY } from "@/office/standings";
import type { ShownAccount } from "@/orders/account";
import type { Provider } from "@/services/payments/contract";
import { FramedTable } from "@/ui/framed-table";
import { AccountForm } from "./account-form";
import { CompanyCells } from "./company-cells";
import { OfferForm } from "./offer-form";
import { PaidForm } from "./paid-form";

interface CompaniesPartProps {
  readonly companies: DirectoryCompany[];
  readonly p: OfficePortal;
  readonly locale: string;
  readonly live: Definition;
}

/** Companies by how they stand. */
export function CompaniesPart({ companies, p, locale, live }: CompaniesPartProps) {
  return (
    <section aria-labelledby="companies" className="grid gap-3">
      <h2 id="companies">Companies</h2>
      <p className="quiet max-w-prose text-sm">
        Those that need a look stand first. What was paid outside, such as by bank transfer, is set here: it holds at once, and stands in
        the log with its reason.
      </p>
      <FramedTable columns={[{ name: "Company" }, { name: "Plan" }, { name: "Standing" }, { name: "" }]}>
        {companies
          .toSorted((a, b) => URGENCY[a.standing.state] - URGENCY[b.standing.state])
          .slice(0, MOST_COMPANIES)
          .map((c) => (
            <tr key={c.id}>
              <CompanyCells at={p.at} company={c} locale={locale} />
              <td>
                <PaidForm
                  key={`${c.standing.plan?.id} ${c.standing.state} ${c.standing.until}`}
                  portal={p.slug}
                  company={{ id: c.id, name: c.name }}
                  plans={live.plans.map((x) => ({ id: x.id, name: x.name }))}
                  now={{
                    plan: c.standing.plan?.id ?? "",
                    state: byHandState(c.standing.state),
                    until: c.standing.until ?? "",
                  }}
                />
              </td>
            </tr>
          ))}
      </FramedTable>
      {companies.length > MOST_COMPANIES && (
        <p className="quiet text-sm">{`And ${companies.length - MOST_COMPANIES} more, in good standing.`}</p>
      )}
    </section>
  );
}

interface OffersPartProps {
  readonly d: Definition;
  readonly money: (n: number) => string;
  readonly schema: Schema;
  readonly p: OfficePortal;
  readonly revision: number;
  readonly currency: string;
  readonly live: Definition;
  readonly named: {
    features: { id: string; name: string }[];
    tables: { id: string; name: string }[];
    companies: { id: string; name: string }[];
  };
}

/** What is sold once. */
export function OffersPart({ d, money, schema, p, revision, currency, live, named }: OffersPartProps) {
  return (
    <section aria-labelledby="offers" className="grid gap-3">
      <h2 id="offers">Once only</h2>
      {d.offers.length > 0 && (
        <FramedTable columns={[{ name: "What" }, { name: "Price", num: true }, { name: "What it opens" }, { name: "Acts", unseen: true }]}>
          {d.offers.map((o) => (
            <tr key={o.id}>
              <td className={`whitespace-normal! ${o.retired ? "quiet line-through" : "font-medium"}`}>
                {o.name}
                <span className="quiet block text-sm font-normal">{o.about}</span>
              </td>
              <td className="num" data-label="Price">
                {money(o.price)}
              </td>
              <td className="whitespace-normal!" data-label="What it opens">
                {opensWords(d, o, (t) => schema.findTable(t)?.name.toLowerCase() ?? "a table that is gone")}
              </td>
              <td>
                <OfferForm
                  key={JSON.stringify(o)}
                  portal={p.slug}
                  revision={revision}
                  offer={{ ...o, written: plainAmount(o.price, currency) }}
                  published={live.offers.some((x) => x.id === o.id)}
                  features={d.features}
                  tables={named.tables}
                />
              </td>
            </tr>
          ))}
        </FramedTable>
      )}
      <OfferForm portal={p.slug} revision={revision} offer={null} published={false} features={d.features} tables={named.tables} />
    </section>
  );
}

interface AccountPartProps {
  readonly account: ShownAccount | null;
  readonly p: OfficePortal;
  readonly provider: Provider;
  readonly locale: string;
  readonly timeZone: string;
}

/** The account that payments go to. */
export function AccountPart({ account, p, provider, locale, timeZone }: AccountPartProps) {
  return (
    <section aria-labelledby="account" className="grid gap-3">
      <h2 id="account">Being paid</h2>
      <AccountForm
        key={account?.secretEnd ?? ""}
        portal={p.slug}
        provider={provider.name}
        site={provider.site}
        hookAddress={`${portalAddress(p.slug)}/-/payments/events`}
        now={
          account && {
            ...account,
            set: `Given by ${account.setBy}, ${formatMoment(new Date(account.setAt).toISOString(), locale, timeZone)}.`,
          }
        }
      />
    </section>
  );
}

export const MOST_COMPANIES = 100;

/** What is offered in its place where a standing is not set by hand. */
export const byHandState = (s: SubscriptionState) => (s === "trial" || s === "grace" || s === "lapsed" ? s : "active");

export function opensWords(d: Definition, { opens, buyer }: Definition["offers"][number], table: (id: string) => string): string {
  const days = "days" in opens && opens.days !== null ? ` for ${opens.days} days` : "";
  const by = { company: "for companies", person: "for companies and single people", anybody: "for anybody" }[buyer];
  const what = (): string => {
    switch (opens.kind) {
      case "order":
        return "An order to fulfil";
      case "feature":
        return `Opens ${d.features.find((f) => f.id === opens.feature)?.name ?? "a feature that is gone"}${days}`;
      case "record":
        return `Opens one of ${table(opens.table)}${days}`;
      case "set":
        return `Opens all of ${table(opens.table)} as they are then${days}`;
      case "top-up":
        return `${opens.n} more ${table(opens.table)}${days}`;
      default:
        return assertNever(opens);
    }
  };
  return `${what()}; ${by}`;
}
