/** Where somebody comes back from paying: it waits for the word, and opens by itself. The address alone opens nothing. */
import { notFound } from "next/navigation";
import { plusDays } from "@/core/prices/periods";
import { formatDate } from "@/core/text/format";
import { type Checkout, checkoutById } from "@/data/billing/checkouts";
import { subscriptionOf } from "@/data/billing/standing";
import type { PortalRequest } from "@/identity/requests/request";
import { isGuestKey, orderHref } from "@/orders/links";
import { Link } from "@/ui/link";
import { sayHere } from "../here";
import { WaitForIt } from "./wait-for-it";

/** After a payment: whether it has come, asked for again until it is known. */
export function PayingPage({ r, id, sign }: { r: PortalRequest; id: string; sign: string }) {
  const say = sayHere(r);
  const c = checkoutById(r.file, id);
  const theirs = c && (c.person === null ? isGuestKey(r.file, c.id, sign) : c.person === r.viewer.person?.id && !r.seeAs);
  if (!c || !theirs) notFound();
  const { what } = c.bought;
  if (c.state === "done") {
    const [title, lead] = doneWords(r, c);
    const onward = c.person === null ? (c.order ? orderHref(r.file, c.order) : `${r.base}/`) : r.base + (c.back === "/" ? "/" : c.back);
    return (
      <div className="mx-auto grid max-w-xl gap-4" role="status">
        <h1>{title}</h1>
        <p>{lead}</p>
        {c.person === null && <p className="quiet">{say("paying.guest", { email: c.email })}</p>}
        <div>
          <Link className="btn btn-primary" href={onward}>
            {say("paying.on")}
          </Link>
        </div>
      </div>
    );
  }
  return (
    <div className="mx-auto grid max-w-xl gap-4">
      <h1>{say("paying.title")}</h1>
      <p>
        {what}. {say("paying.lead")}
      </p>
      <WaitForIt id={c.id} sign={sign} words={{ again: say("paying.again") }} />
      {c.url && (
        <p>
          <a className="link-plain" href={c.url}>
            {say("paying.go")}
          </a>
        </p>
      )}
    </div>
  );
}

/** What has come of it, as it stands now: something less holds later, a trial is not paid yet, and a way to pay is no purchase. */
function doneWords(r: PortalRequest, c: Checkout): [title: string, lead: string] {
  const say = sayHere(r);
  const { what, wanted, reckoned } = c.bought;
  if (c.why?.includes("could not be had")) return [say("paying.credited"), say("paying.credited-lead", { what })];
  if (c.why?.includes("which this portal does not take")) {
    const contact = r.published.definition.brand.contact || r.published.definition.portal.name;
    return [say("paying.strange"), say("paying.strange-lead", { what, contact })];
  }
  const paid = say(reckoned.due > 0 ? "paying.done" : "paying.done-saved");
  if (wanted.kind === "method") return [say("paying.done-saved"), say("paying.done-method")];
  if (wanted.kind === "invoice") return [paid, say("paying.done-invoice", { what })];
  const life = wanted.kind === "plan" && c.company ? subscriptionOf(r.file, c.company)?.life : null;
  const day = (d: string): string => formatDate(d, say.locale);
  if (life && wanted.kind === "plan") {
    if (life.next?.price === wanted.price) return [paid, say("paying.done-later", { what, day: day(life.paidUntil) })];
    if (life.state === "trial" && life.terms.price === wanted.price)
      return [paid, say("paying.done-trial", { what, day: day(plusDays(life.paidUntil, -1)) })];
  }
  return [paid, say("paying.done-lead", { what })];
}
