/** An order found by the link in its mail: that one alone, and whoever is signed in may put it among theirs. */
import { notFound } from "next/navigation";
import { formatDate, formatMoney } from "@/core/text/format";
import { orderFacts } from "@/data/billing/orders";
import type { PortalRequest } from "@/identity/requests/request";
import { orderOf } from "@/orders/links";
import { sayHere } from "../here";
import { ClaimForm } from "./claim-form";
import { Amounts } from "./invoice-page";

/** An order that somebody reached by its link, with its invoice. */
export function OrderPage({ r, token }: { r: PortalRequest; token: string }) {
  const say = sayHere(r);
  const id = orderOf(r.file, token);
  const order = id && orderFacts(r.file, id);
  if (!order) notFound();
  const { currency, locale } = r.published.definition.portal;
  const mine = r.viewer.kind === "person" && r.viewer.company !== null && !r.seeAs;
  return (
    <div className="mx-auto grid max-w-3xl gap-6">
      <div>
        <h1>{say("order.title", { number: order.number })}</h1>
        <p className="mt-1">
          {say("order.lead", { what: order.what, price: formatMoney(order.total, currency, locale), day: formatDate(order.day, locale) })}
        </p>
      </div>
      {order.paper && (
        <div className="sheet grid gap-3 p-6">
          <div className="flex flex-wrap items-baseline justify-between gap-3">
            <h2>{say("invoice.title", { number: order.paper.number })}</h2>
            <a className="link-plain" href={`${r.base}/-/order/${token}/pdf`}>
              {say("invoice.pdf")}
            </a>
          </div>
          <Amounts r={r} paper={order.paper} />
        </div>
      )}
      {order.company !== null && order.company === r.viewer.company?.id && <p role="status">{say("order.claimed")}</p>}
      {order.company === null &&
        (mine ? (
          <ClaimForm token={token} words={say("order.claim", { company: r.viewer.company!.name })} />
        ) : (
          <p className="quiet">{say("order.join")}</p>
        ))}
    </div>
  );
}
