/** What is bought, looked over before it is paid: its lines, its tax, when it holds, who is billed. */

import { randomUUID } from "node:crypto";
import type { Buyer } from "@/core/billing/buyer";
import type { Reckoned } from "@/core/billing/invoice";
import type { Quote, Wanted } from "@/core/billing/quote";
import { asksCountry, type TaxMode } from "@/core/billing/tax";
import { countriesIn } from "@/core/text/countries";
import { formatDate, formatNumber } from "@/core/text/format";
import type { Say } from "@/core/words/words";
import { customerOf } from "@/data/billing/buyers";
import type { Bought } from "@/data/billing/checkouts";
import type { PortalRequest } from "@/identity/requests/request";
import { Link } from "@/ui/link";
import { isOwn } from "../begin";
import { mayPay, moneyHere, sayHere, tillOf } from "../here";
import type { Offered } from "../quote";
import { wantedQuery } from "../wanted";
import { BuyForm } from "./buy-form";

interface Props {
  r: PortalRequest;
  wanted: Wanted;
  offered: Offered;
  back: string;
  /** Set where a guest buys. */
  guest: { readonly email: string } | null;
  /** Their country is empty where it does not matter and is not known. */
  buyer: Buyer;
  changed: boolean;
}

export function Summary({ r, wanted, offered, back, guest, buyer, changed }: Props) {
  const say = sayHere(r);
  const money = moneyHere(r);
  const { bought, quote, least } = offered;
  const { reckoned, tax } = bought;
  const till = tillOf(r.file);
  // What the company keeps is its payers' alone, and not for what somebody buys for themselves.
  const kept =
    r.viewer.company && till && mayPay(r) && !isOwn(bought) ? customerOf(r.file, r.viewer.company.id, till.account.account) : null;
  const day = formatDate(quote.from || bought.day, say.locale);
  const words = kept?.method && wanted.kind !== "method" ? kept.words : null;
  const contact = r.published.definition.brand.contact || r.published.definition.portal.name;
  const fixed = asksCountry(r.published.definition.billing.tax);
  return (
    <div className="mx-auto grid max-w-3xl gap-6">
      <div>
        <h1>{say("buy.title")}</h1>
        <p className="quiet mt-1 max-w-prose">{lead()}</p>
        {r.viewer.person && (
          <p className="quiet mt-1">
            {say("buy.as", { person: r.viewer.person.name, email: String(r.viewer.person.values.f_person_email ?? "") })}
          </p>
        )}
      </div>
      {changed && (
        <div role="alert" className="alert alert-warning">
          {say("buy.changed")}
        </div>
      )}
      <WhatIsBought say={say} bought={bought} reckoned={reckoned} money={money} tax={tax} quote={quote} />
      {wanted.kind === "plan" && least !== null && <SeatsForm r={r} wanted={wanted} back={back} say={say} least={least} />}
      {till ? (
        <BuyForm
          hidden={{ ...wantedQuery(wanted), to: back, filling: randomUUID(), shown: String(reckoned.due) }}
          buyer={buyer}
          fixedEmail={guest !== null}
          countries={fixed ? countriesIn(say.locale).filter((c) => c.code === buyer.country) : [...countriesIn(say.locale)]}
          countryHint={fixed && r.viewer.company !== null && !isOwn(bought) ? say("buy.country-fixed", { contact }) : ""}
          kept={words}
          submit={submit()}
          words={{
            billed: say("buy.billed"),
            name: say("buy.name"),
            email: say("buy.email"),
            address: say("buy.address"),
            country: say("buy.country"),
            none: say("buy.no-country"),
            taxNumber: say("buy.tax-number"),
            reference: say("buy.reference"),
            kept: words ? say("buy.kept", { words }) : "",
            other: say("buy.other"),
          }}
        />
      ) : (
        <p className="alert">
          {say("buy.offline", { contact: r.published.definition.brand.contact || r.published.definition.portal.name })}
        </p>
      )}
      <p>
        <Link className="link-plain" href={`${r.base}/plans`}>
          {say("buy.back")}
        </Link>
      </p>
    </div>
  );

  function lead(): string {
    if (wanted.kind === "method") return "";
    if (quote.when === "at the end") return say("buy.lead-end", { day });
    if (quote.when === "now") return say("buy.lead-now");
    return quote.happening?.kind === "changed" ? say("buy.lead-trial-on", { day }) : say("buy.lead-trial", { day });
  }
  function submit(): string {
    if (wanted.kind === "method") return say("buy.keep-method");
    if (quote.when === "at the end") return say("buy.from-then", { day });
    if (reckoned.due > 0) return say(words ? "buy.pay-kept" : "buy.pay", { price: money(reckoned.due) });
    return quote.happening?.kind === "bought" && quote.when === "trial" ? say("buy.begin") : say("buy.choose");
  }
}

function Sum({ words, amount }: { words: string; amount: string }) {
  return (
    <tr className="border-t border-base-300">
      <td className="py-1.5 pr-4">{words}</td>
      <td className="num py-1.5">{amount}</td>
    </tr>
  );
}

interface WhatIsBoughtProps {
  readonly say: Say;
  readonly bought: Omit<Bought, "buyer">;
  readonly reckoned: Reckoned;
  readonly money: (minor: number) => string;
  readonly tax: { mode: TaxMode; name: string; rate: number };
  readonly quote: Quote;
}

/** Lines, tax and sum. */
function WhatIsBought({ say, bought, reckoned, money, tax, quote }: WhatIsBoughtProps) {
  return (
    <section className="sheet grid gap-4 p-5" aria-label={say("buy.what")}>
      <h2>{bought.what}</h2>
      {bought.lines.length + reckoned.lines.length > 0 && (
        <table className="w-full text-sm">
          <caption className="sr-only">{bought.what}</caption>
          <thead>
            <tr className="quiet text-left">
              <th className="py-1 font-normal">{say("buy.what")}</th>
              <th className="num py-1 font-normal">{say("buy.net")}</th>
            </tr>
          </thead>
          <tbody>
            {reckoned.lines.map((l, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: lines have no ids and never change places
              <tr key={i} className="border-t border-base-300">
                <td className="py-2 pr-4">{l.text}</td>
                <td className="num py-2">{money(l.net)}</td>
              </tr>
            ))}
          </tbody>
          <tfoot>
            {tax.name !== "" && (
              <Sum
                words={say("buy.tax", { name: tax.name, rate: `${formatNumber(tax.rate / 100, say.locale)} %` })}
                amount={money(reckoned.tax)}
              />
            )}
            <Sum words={say("buy.total")} amount={money(reckoned.total)} />
            {reckoned.credit > 0 && <Sum words={say("buy.credit")} amount={`−${money(reckoned.credit)}`} />}
          </tfoot>
        </table>
      )}
      <p className="flex items-baseline justify-between gap-4 border-t-2 border-base-content pt-3">
        <strong>{say("buy.due")}</strong>
        <strong className="title text-2xl tabular-nums">{money(reckoned.due)}</strong>
      </p>
      {quote.renewal && quote.renewal.amount > 0 && (
        <p className="quiet text-sm">
          {say(tax.mode === "exclusive" ? "buy.then-taxed" : "buy.then", {
            price: money(quote.renewal.amount),
            per: say(`plans.a-${quote.renewal.cycle}`),
            tax: tax.name,
          })}
        </p>
      )}
    </section>
  );
}

interface SeatsFormProps {
  readonly r: PortalRequest;
  readonly wanted: { kind: "plan"; price: string; seats: number };
  readonly back: string;
  readonly say: Say;
  readonly least: number;
}

/** How many seats, reckoned anew at a press. */
function SeatsForm({ r, wanted, back, say, least }: SeatsFormProps) {
  return (
    <form className="sheet flex flex-wrap items-end gap-4 p-5" action={`${r.base}/-/buy`}>
      <input type="hidden" name="price" value={wanted.price} />
      <input type="hidden" name="to" value={back} />
      <label className="field-label">
        {say("buy.seats")}
        <input className="input mt-1 block w-28" type="number" name="seats" min={least} defaultValue={wanted.seats} />
      </label>
      <button type="submit" className="btn">
        {say("buy.seats-again")}
      </button>
      <p className="quiet w-full text-sm">{say("buy.seats-least", { n: least })}</p>
    </form>
  );
}
