/** An invoice to be read: the same lines as the summary before it, and as its PDF. */
import { countryName } from "@/core/text/countries";
import { formatDate, formatMoment, formatMoney, formatNumber } from "@/core/text/format";
import type { Paper } from "@/data/billing/write-books";
import type { PortalRequest } from "@/identity/requests/request";
import { Link } from "@/ui/link";
import { sayHere } from "../here";
import type { SeenInvoice } from "../invoice";
import { InvoiceState } from "./invoice-state";

/** One invoice as its buyer reads it. */
export function InvoicePage({ r, seen, files }: { r: PortalRequest; seen: SeenInvoice; files: string }) {
  const say = sayHere(r);
  const { paper, record, payments } = seen;
  const { locale, timeZone } = r.published.definition.portal;
  const paid = record.fields.f_invoice_paid_on;
  return (
    <div className="mx-auto grid max-w-3xl gap-6">
      <div className="flex flex-wrap items-baseline justify-between gap-3">
        <h1>{say(paper.kind === "invoice" ? "invoice.title" : "invoice.note", { number: paper.number })}</h1>
        <span className="flex gap-4">
          <a className="link-plain" href={`${files}/pdf`}>
            {say("invoice.pdf")}
          </a>
          <a className="link-plain" href={`${files}/csv`}>
            {say("invoice.csv")}
          </a>
        </span>
      </div>
      <div className="sheet grid gap-5 p-6">
        <div className="flex flex-wrap justify-between gap-6">
          <BuyerPart r={r} paper={paper} />
          <div className="grid content-start gap-0.5 text-sm sm:text-right">
            <p>{say("invoice.issued", { day: formatDate(paper.issued, locale) })}</p>
            {paper.of && <p>{say("invoice.of", { number: paper.of })}</p>}
            {paid ? (
              <p>{say("invoice.paid", { day: formatDate(String(paid), locale) })}</p>
            ) : (
              <p>{say("invoice.due", { day: formatDate(paper.due, locale) })}</p>
            )}
            <p>
              <InvoiceState r={r} invoice={record} />
            </p>
          </div>
        </div>
        <Amounts r={r} paper={paper} />
      </div>
      {payments.length > 0 && (
        <section className="grid gap-2" aria-labelledby="payments">
          <h2 id="payments">{say("invoice.payments")}</h2>
          <ul className="sheet divide-y divide-base-300 px-5">
            {payments.map((p) => (
              <li key={p.id} className="flex flex-wrap justify-between gap-3 py-3 text-sm">
                <span>
                  {formatMoment(String(p.fields.f_payment_at), locale, timeZone)}, {String(p.fields.f_payment_by ?? "")}
                  {p.fields.f_payment_why ? <span className="quiet"> ({String(p.fields.f_payment_why)})</span> : null}
                </span>
                <span className="tabular-nums">
                  {r.published.policy.schema.field("f_payment_state").options.choices?.find((c) => c.id === p.fields.f_payment_state)?.name}{" "}
                  {formatMoney(Number(p.fields.f_payment_amount ?? 0), paper.currency, locale)}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <p>
        <Link className="link-plain" href={`${r.base}/-/billing`}>
          {say("billing.title")}
        </Link>
      </p>
    </div>
  );
}

function BuyerPart({ r, paper: { buyer, seller } }: { r: PortalRequest; paper: Paper }) {
  const say = sayHere(r);
  return (
    <address className="grid content-start gap-0.5 not-italic">
      <span className="quiet text-sm">{seller}</span>
      <strong>{buyer.name}</strong>
      {buyer.address && <span className="whitespace-pre-line">{buyer.address}</span>}
      {buyer.country && <span>{countryName(buyer.country, say.locale)}</span>}
      {buyer.taxNumber && <span className="text-sm">{say("invoice.tax-number", { number: buyer.taxNumber })}</span>}
      {buyer.reference && <span className="text-sm">{say("invoice.reference", { reference: buyer.reference })}</span>}
    </address>
  );
}

export function Amounts({ r, paper }: { r: PortalRequest; paper: Paper }) {
  const say = sayHere(r);
  const { locale } = r.published.definition.portal;
  const money = (n: number): string => formatMoney(n, paper.currency, locale);
  const { reckoned, tax } = paper;
  return (
    <table className="w-full text-sm">
      <caption className="sr-only">{paper.number}</caption>
      <thead>
        <tr className="quiet text-left">
          <th className="py-1 font-normal">{say("buy.what")}</th>
          <th className="num py-1 font-normal">{say("buy.net")}</th>
          <th className="num py-1 font-normal">{tax.name || say("buy.tax", { name: "", rate: "" })}</th>
          <th className="num py-1 font-normal">{say("buy.total")}</th>
        </tr>
      </thead>
      <tbody>
        {reckoned.lines.map((l, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: lines have no ids and never change places
          <tr key={i} className="border-t border-base-300">
            <td className="py-2 pr-4">{l.text}</td>
            <td className="num py-2">{money(l.net)}</td>
            <td className="num py-2">{money(l.tax)}</td>
            <td className="num py-2">{money(l.gross)}</td>
          </tr>
        ))}
      </tbody>
      <tfoot>
        <tr className="border-t-2 border-base-content font-semibold">
          <td className="py-2">
            {say("buy.total")}
            {tax.name && (
              <span className="quiet font-normal">
                {" "}
                ({say("buy.tax", { name: tax.name, rate: `${formatNumber(tax.rate / 100, locale)} %` })})
              </span>
            )}
          </td>
          <td className="num py-2">{money(reckoned.net)}</td>
          <td className="num py-2">{money(reckoned.tax)}</td>
          <td className="num py-2">{money(reckoned.total)}</td>
        </tr>
        {reckoned.credit > 0 && (
          <tr>
            <td className="py-1" colSpan={3}>
              {say("buy.credit")}
            </td>
            <td className="num py-1">−{money(reckoned.credit)}</td>
          </tr>
        )}
        {reckoned.credit > 0 && (
          <tr className="font-semibold">
            <td className="py-1" colSpan={3}>
              {say("invoice.to-pay")}
            </td>
            <td className="num py-1">{money(reckoned.due)}</td>
          </tr>
        )}
      </tfoot>
    </table>
  );
}
