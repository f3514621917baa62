import { notFound } from "next/navigation";
import { checkoutById } from "@/data/billing/checkouts";
import { isGuestKey, orderHref } from "@/identity/order-links";
/** Where somebody comes back from paying: it waits for the word, and opens by itself. The address alone opens nothing. */
import type { PortalRequest } from "@/identity/request";
import { Link } from "@/ui/link";
import { sayHere } from "../here";
import { WaitForIt } from "./wait-for-it";

export function PayingPage({ r, id, sign }: { r: PortalRequest; id: string; sign: string }) {
  const say = sayHere(r);
  const c = checkoutById(r.file, id);
  const theirs = c && (c.person === null ? isGuestKey(r.file, c.id, sign) : c.person === r.viewer.person?.id && !r.seeAs);
  if (!c || !theirs) notFound();
  const { what } = c.bought;
  if (c.state === "done") {
    const had = !c.why?.includes("could not be had");
    const onward = c.person === null ? (c.order ? orderHref(r.file, c.order) : `${r.base}/`) : r.base + (c.back === "/" ? "/" : c.back);
    return (
      <div className="mx-auto grid max-w-xl gap-4" role="status">
        <h1>{say(had ? "paying.done" : "paying.credited")}</h1>
        <p>{say(had ? "paying.done-lead" : "paying.credited-lead", { what })}</p>
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
