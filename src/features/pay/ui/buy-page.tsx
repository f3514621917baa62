/** The way from a choice to the summary: whoever is signed out signs in or goes on as a guest, and what they chose is kept. */
import { redirect } from "next/navigation";
import { safePath } from "@/core/address/safe-path";
import { isEmail } from "@/core/text/email";
import type { PortalRequest } from "@/identity/requests/request";
import { joining } from "@/joining/settings";
import { sayHere } from "../here";
import { buyerHere, countryHere, knownBuyer, offerHere } from "../quote";
import { buyHref, wantedIn, wantedQuery } from "../wanted";
import { CountryFirst } from "./country-first";
import { GuestChoice } from "./guest";
import { NotSoldNote } from "./not-sold";
import { Summary } from "./summary";

type Query = Record<string, string | string[] | undefined>;

interface Props {
  r: PortalRequest;
  query: Query;
  plans: React.ReactNode;
  /** In the office it is only looked at, and leads nowhere. */
  lookedAt?: boolean;
}

/** One thing on its way to being bought: who buys it, from where, and what it costs. What is not sold says so above the plans. */
export function BuyPage({ r, query, plans, lookedAt = false }: Props) {
  const one = (k: string): string => (typeof query[k] === "string" ? (query[k] as string) : "");
  const back = safePath(one("to") || "/");
  const wanted = wantedIn(query);
  const note = (why: Parameters<typeof NotSoldNote>[0]["why"]) => (
    <>
      <NotSoldNote r={r} why={why} />
      {plans}
    </>
  );
  if (!wanted) return note({ no: "none" });
  const guestEmail = one("guest");
  const guest = r.viewer.kind !== "person" && isEmail(guestEmail) ? { email: guestEmail } : null;
  const known = knownBuyer(r);
  const country = countryHere(r, wanted, one("country"), known);
  const offered = offerHere(r, wanted, country);
  if (!offered.ok) {
    if (lookedAt) return note(offered.error);
    if (offered.error.no === "sign-in") redirect(`${r.base}/sign-in?to=${encodeURIComponent(buyHref("", wanted, { to: back }))}`);
    // As many seats as are needed are proposed at once.
    if (offered.error.no === "seats" && wanted.kind === "plan" && wanted.seats < offered.error.least)
      redirect(buyHref(r.base, { ...wanted, seats: offered.error.least }, { to: back }));
    if (offered.error.no === "country" && (r.viewer.kind === "person" || guest))
      return <CountryFirst r={r} hidden={{ ...wantedQuery(wanted), to: back, ...(guest ? { guest: guest.email } : {}) }} />;
    if (offered.error.no !== "country") return note(offered.error);
  }
  const say = sayHere(r);
  if (r.viewer.kind !== "person" && !guest)
    return (
      <GuestChoice
        hidden={{ ...wantedQuery(wanted), to: back }}
        signIn={`${r.base}/sign-in?to=${encodeURIComponent(buyHref("", wanted, { to: back }))}`}
        join={joining(r.file).who === "nobody" ? null : `${r.base}/-/join?to=${encodeURIComponent(buyHref("", wanted, { to: back }))}`}
        words={{
          title: say("buy.guest"),
          lead: say("buy.guest-lead"),
          signIn: say("buy.sign-in"),
          join: say("buy.join"),
          guest: say("buy.as-guest"),
          email: say("buy.guest-email"),
        }}
      />
    );
  if (!offered.ok) return note(offered.error);
  return (
    <Summary
      r={r}
      wanted={wanted}
      offered={offered.value}
      back={back}
      buyer={{ ...buyerHere(r, guest?.email ?? "", known), country }}
      guest={guest}
      changed={one("changed") === "1"}
    />
  );
}
