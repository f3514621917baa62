/** A company's plan and its invoices: what it has, what comes next, how it is paid, and what was. */

import type { Subscription } from "@/core/billing/subscription";
import type { Price } from "@/core/definition/parts/plans";
import { plusDays } from "@/core/prices/periods";
import { INVOICES } from "@/core/schema/books";
import type { SeenRecord } from "@/core/schema/seen";
import { formatDate, formatMoney } from "@/core/text/format";
import { dateIn } from "@/core/time/relative";
import type { Say } from "@/core/words/words";
import { type Customer, customerOf } from "@/data/billing/buyers";
import { creditOf } from "@/data/billing/credit";
import { nextPayment } from "@/data/billing/due";
import { seatsTaken } from "@/data/billing/people";
import { type Standing, standingOf, subscriptionOf } from "@/data/billing/standing";
import type { PortalRequest } from "@/identity/requests/request";
import { Empty } from "@/ui/empty";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import type { Till } from "../here";
import { mayPay, moneyHere, sayHere, tillOf } from "../here";
import { buyHref } from "../wanted";
import { InvoiceState } from "./invoice-state";
import { LifeForm } from "./life-form";

const MOST = 24;

/** A company's own plan, payments and invoices. */
export function BillingPage({ r }: { r: PortalRequest }) {
  const say = sayHere(r);
  return (
    <div className="grid gap-8">
      <h1>{say("billing.title")}</h1>
      {r.viewer.company && <PlanPart r={r} />}
      <InvoicePart r={r} />
    </div>
  );
}

function PlanPart({ r }: { r: PortalRequest }) {
  const say = sayHere(r);
  const money = moneyHere(r);
  const { definition } = r.published;
  const company = r.viewer.company!;
  const today = dateIn(r.viewer.now, r.viewer.timeZone);
  const standing = standingOf(r.file, definition, company.id, today, r.viewer.person?.id ?? null);
  const stored = subscriptionOf(r.file, company.id);
  const life = stored?.life ?? null;
  const pays = mayPay(r);
  const till = tillOf(r.file);
  const kept = till ? customerOf(r.file, company.id, till.account.account) : null;
  const credit = creditOf(r.file, company.id);
  const price = life && definition.prices.find((p) => p.id === life.terms.price);
  const day = (d: string): string => formatDate(d, say.locale);
  const planName = (id: string): string => definition.plans.find((p) => p.id === id)?.name ?? "";
  const next = stored?.collect === "none" ? null : nextPayment(r.file, company.id);
  // Sentences name the last day that is open, as invoices do.
  const last = life ? day(plusDays(life.paidUntil, -1)) : "";
  const state = say(`state.${standing.state}`, { day: standing.until ? day(standing.until) : "" });
  return (
    <section className="sheet grid gap-4 p-5" aria-labelledby="plan">
      <div className="flex flex-wrap items-baseline justify-between gap-3">
        <h2 id="plan">{standing.plan ? standing.plan.name : say("billing.none", { company: company.name })}</h2>
        {standing.plan && (
          <span className={standing.state === "grace" || standing.state === "lapsed" ? "tag text-accent" : "tag"}>{state}</span>
        )}
      </div>
      <div className="grid gap-1">
        {next && <p>{say("billing.next", { price: money(next.due), day: day(next.day) })}</p>}
        {life?.next && (
          <p>
            {say("billing.next-terms", {
              day: day(life.paidUntil),
              what: say(`line.plan-${life.next.cycle}`, { plan: planName(life.next.plan), seats: life.next.seats }),
            })}
          </p>
        )}
        {price?.per === "seat" && life && <p>{say("billing.seats", { used: seatsTaken(r.file, company.id), all: life.terms.seats })}</p>}
        {pays && till && <p className="quiet">{kept?.words ? say("billing.method", { words: kept.words }) : say("billing.method-none")}</p>}
        {pays && credit > 0 && <p>{say("billing.credit", { price: money(credit) })}</p>}
        {standing.why.filter((o) => !standing.plan?.features.includes(o.feature)).length > 0 && (
          <p className="quiet">
            {say("billing.opened")}:{" "}
            {standing.why
              .filter((o) => !standing.plan?.features.includes(o.feature))
              .map((o) => definition.features.find((f) => f.id === o.feature)?.name ?? "")
              .join(", ")}
          </p>
        )}
      </div>
      {pays && <PlanActs standing={standing} r={r} say={say} price={price} life={life} till={till} kept={kept} last={last} />}
    </section>
  );
}

function InvoicePart({ r }: { r: PortalRequest }) {
  const say = sayHere(r);
  const table = r.published.policy.schema.findTable(INVOICES);
  if (!table || !r.desk.may(table, "see")) return null;
  const { records } = r.desk.list(table, {
    sort: [
      { field: "f_invoice_issued", descending: true },
      { field: "f_invoice_number", descending: true },
    ],
    limit: MOST,
  });
  const { currency, locale } = r.published.definition.portal;
  const text = (x: SeenRecord, f: string): string => String(x.fields[f] ?? "");
  return (
    <section className="grid gap-3" aria-labelledby="invoices">
      <div className="flex flex-wrap items-baseline justify-between gap-3">
        <h2 id="invoices">{say("billing.invoices")}</h2>
        {records.length === MOST && (
          <Link className="link-plain text-sm" href={`${r.base}/${table.slug}`}>
            {say("billing.all")}
          </Link>
        )}
      </div>
      {records.length === 0 ? (
        <div className="sheet">
          <Empty
            title={
              r.viewer.company && !mayPay(r) ? say("billing.not-payer", { company: r.viewer.company.name }) : say("billing.no-invoices")
            }
          >
            {""}
          </Empty>
        </div>
      ) : (
        <FramedTable
          columns={[
            { name: say("billing.number") },
            { name: say("buy.what"), className: "w-1/2" },
            { name: say("billing.issued") },
            { name: say("billing.state") },
            { name: say("billing.amount"), num: true },
          ]}
        >
          {records.map((x) => (
            <tr key={x.id}>
              <td className="font-medium whitespace-nowrap">
                <Link className="link-plain" href={`${r.base}/-/invoices/${x.id}`}>
                  {text(x, "f_invoice_number")}
                </Link>
              </td>
              <td className="whitespace-normal!" data-label={say("buy.what")}>
                {text(x, "f_invoice_what")}
              </td>
              <td data-label={say("billing.issued")}>{formatDate(text(x, "f_invoice_issued"), locale)}</td>
              <td data-label={say("billing.state")}>
                <InvoiceState r={r} invoice={x} />
              </td>
              <td className="num" data-label={say("billing.amount")}>
                {formatMoney(Number(x.fields.f_invoice_total ?? 0), currency, locale)}
              </td>
            </tr>
          ))}
        </FramedTable>
      )}
    </section>
  );
}

interface PlanActsProps {
  readonly standing: Standing;
  readonly r: PortalRequest;
  readonly say: Say;
  readonly price: Price | null | undefined;
  readonly life: Subscription | null;
  readonly till: Till | null;
  readonly kept: Customer | null;
  readonly last: string;
}

/** What can be done with the plan. */
function PlanActs({ standing, r, say, price, life, till, kept, last }: PlanActsProps) {
  return (
    <div className="flex flex-wrap items-center gap-3">
      {standing.state !== "grace" && (
        <Link className="btn btn-primary btn-sm" href={`${r.base}/plans`}>
          {say(standing.plan && standing.state !== "lapsed" ? "billing.change" : "billing.choose")}
        </Link>
      )}
      {price?.per === "seat" && life?.state === "active" && (
        <Link
          className="btn btn-sm"
          href={buyHref(r.base, { kind: "plan", price: price.id, seats: life.terms.seats + 1 }, { to: "/-/billing" })}
        >
          {say("billing.seats-change")}
        </Link>
      )}
      {till && life && life.state !== "lapsed" && (
        <Link className="btn btn-sm" href={buyHref(r.base, { kind: "method" }, { to: "/-/billing" })}>
          {say(kept?.method ? "billing.method-other" : "billing.method-give")}
        </Link>
      )}
      {life && (life.state === "active" || life.state === "trial") && (
        <LifeForm what="cancelled" words={{ press: say("billing.cancel"), lead: say("billing.cancel-lead", { day: last }) }} />
      )}
      {life?.state === "ending" && (
        <LifeForm what="kept" words={{ press: say("billing.keep"), lead: say("billing.cancelled", { day: last }) }} />
      )}
    </div>
  );
}
