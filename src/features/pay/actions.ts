"use server";
/** Buying, from what was looked over to the provider's page; and what people do with the plan they have. The server reckons anew at each press. */
import { revalidatePath } from "next/cache";
import { redirect } from "next/navigation";
import { z } from "zod";
import { safePath } from "@/core/address/safe-path";
import { buyerSchema } from "@/core/billing/buyer";
import type { Happening } from "@/core/billing/subscription";
import { actorOf } from "@/core/events/event";
import { isEmail } from "@/core/text/email";
import { dateIn } from "@/core/time/relative";
import { keepBuyer } from "@/data/billing/buyers";
import { beginCheckout, checkoutById } from "@/data/billing/checkouts";
import { type Life, take } from "@/data/billing/life";
import { claim } from "@/data/billing/orders";
import { subscriptionOf } from "@/data/billing/standing";
import { countTry, limitsOf, waitFor } from "@/identity/limits/limits";
import { fromHere } from "@/identity/requests/cookies";
import type { PortalRequest } from "@/identity/requests/request";
import { word } from "@/identity/requests/takes";
import { portalCall, portalForm } from "@/office/portal-action";
import { fillingOf, guestKey, isGuestKey, orderOf } from "@/orders/links";
import { begin } from "./begin";
import { mayPay, sayHere, tillOf } from "./here";
import { countryHere, offerHere } from "./quote";
import { settlePaid } from "./settling";
import { buyHref, wantedIn } from "./wanted";

const text = (data: FormData, name: string, most = 600): string => String(data.get(name) ?? "").slice(0, most);
const query = (data: FormData) =>
  Object.fromEntries(["price", "seats", "offer", "record", "own", "invoice", "method"].map((k) => [k, text(data, k, 64)]));

/** From the summary on: kept who is billed, reckoned anew, begun once for this filling-in, and led to where it is paid. */
export const confirmPurchase = portalForm([], async (r, form) => {
  const say = sayHere(r);
  const wanted = wantedIn(query(form.data));
  const filling = form.text("filling", 64);
  if (!wanted || !/^[\w-]{16,64}$/.test(filling)) return form.failed({}, say("buy.strange"));
  const guest = r.viewer.kind !== "person";
  const buyer = buyerSchema.safeParse({
    name: form.text("name"),
    email: form.text("email"),
    address: form.text("address"),
    country: countryHere(r, wanted, form.text("country", 8)),
    taxNumber: form.text("taxNumber"),
    reference: form.text("reference"),
  });
  if (!buyer.success) return form.failed(Object.fromEntries(buyer.error.issues.map((i) => [String(i.path[0]), i.message])));
  const back = safePath(form.text("to", 500));
  const again = (more: Record<string, string> = {}): never =>
    redirect(buyHref(r.base, wanted, { to: back, country: buyer.data.country, ...(guest ? { guest: buyer.data.email } : {}), ...more }));
  const offered = offerHere(r, wanted, buyer.data.country);
  if (!offered.ok && offered.error.no === "country") return form.failed({ country: say("buy.which-country") });
  if (!offered.ok) return again();
  const company = r.viewer.company?.id ?? null;
  if (company && mayPay(r)) keepBuyer(r.file, company, buyer.data, r.viewer.now);
  // What was shown is what is agreed to: where it comes to something else by now, that is said before anything is paid.
  if (form.text("shown", 20) !== String(offered.value.bought.reckoned.due)) return again({ changed: "1" });
  const till = tillOf(r.file);
  if (!till)
    return form.failed({}, say("buy.offline", { contact: r.published.definition.brand.contact || r.published.definition.portal.name }));
  if (guest) {
    const limits = limitsOf("buying", await fromHere(r.file.id, r.base, buyer.data.email));
    if (waitFor(r.file.orm, limits, r.viewer.now) > 0) return form.failed({}, say("buy.busy", { why: "" }));
    countTry(r.file.orm, limits, r.viewer.now);
  }
  const person = r.viewer.person?.id ?? null;
  const checkout = beginCheckout(r.file, {
    filling: fillingOf(person ?? "guest", filling),
    company,
    person,
    // Whoever is signed in buys as themselves; where invoices go is another matter.
    email: person ? String(r.viewer.person?.values.f_person_email ?? buyer.data.email) : buyer.data.email,
    bought: { ...offered.value.bought, buyer: buyer.data },
    account: till.account.account,
    back,
    now: r.viewer.now,
  });
  if (!checkout) return form.failed({}, say("buy.strange"));
  const key = guest ? guestKey(r.file, checkout.id) : null;
  const done = await begin(r.file, till, checkout, {
    now: r.viewer.now,
    other: form.ticked("other"),
    payer: mayPay(r),
    key,
  });
  if (!done.ok) return form.failed({}, say("buy.busy", { why: done.error }));
  revalidatePath("/", "layout");
  redirect(done.value.startsWith("/") ? r.base + done.value : done.value);
});

/** For the page that waits: asks the provider, where no word has come yet. A guest is known by the key of their page. */
export const lookAgain = portalCall([word, word], async (r, id, key): Promise<"done" | "waits" | "gone"> => {
  const c = typeof id === "string" ? checkoutById(r.file, id.slice(0, 64)) : null;
  if (!c || !isTheirs(r, c, String(key))) return "gone";
  if (c.state === "done") return "done";
  const till = tillOf(r.file);
  if (!till || c.outside === null || c.account !== till.account.account) return "waits";
  const said = await till.payments.checkoutNow(c.outside);
  if (!said.ok || said.value.state !== "paid") return "waits";
  settlePaid(r.file, c.id, said.value, r.viewer.now);
  revalidatePath("/", "layout");
  return "done";
});

const isTheirs = (r: PortalRequest, c: { id: string; person: string | null; company: string | null }, key: string): boolean =>
  c.person === null ? isGuestKey(r.file, c.id, key) : c.person === r.viewer.person?.id && c.company === (r.viewer.company?.id ?? null);

/** Cancelled and kept: by whoever may pay. Nothing is asked of the provider. */
export const changeLife = portalForm([z.enum(["cancelled", "kept"])], (r, form, what) => {
  const say = sayHere(r);
  const company = r.viewer.company?.id;
  const was = company ? subscriptionOf(r.file, company) : null;
  if (!company || !was || !mayPay(r)) return form.failed({}, say("form.not-allowed"));
  const happening: Happening = { kind: what === "kept" ? "kept" : "cancelled" };
  const life: Life = {
    company,
    day: dateIn(r.viewer.now, was.timeZone),
    timeZone: was.timeZone,
    collect: was.collect,
    by: { actor: actorOf(r.viewer), via: "page", at: r.viewer.now },
    note: (done) => done.why,
  };
  const done = take(r.file, life, happening, { grace: r.published.definition.billing.grace });
  revalidatePath("/", "layout");
  return done ? form.succeeded(say(what === "kept" ? "billing.kept" : "buy.title")) : form.failed({}, say("form.not-allowed"));
});

/** A guest says who they are, and goes on. */
export const asGuest = portalForm([], (r, form) => {
  const wanted = wantedIn(query(form.data));
  const email = form.text("guest").trim();
  if (!wanted) return form.failed({}, sayHere(r)("buy.strange"));
  if (!isEmail(email)) return form.failed({ guest: sayHere(r)("door.write-email") });
  redirect(buyHref(r.base, wanted, { guest: email, to: safePath(form.text("to", 500)) }));
});

/** A guest's order is taken along by whoever holds the link of its mail, and is signed in. */
export const claimOrder = portalForm([], (r, form) => {
  const say = sayHere(r);
  const id = orderOf(r.file, form.text("token", 200));
  const { company, person } = r.viewer;
  if (!id || !company || !person || r.viewer.kind !== "person") return form.failed({}, say("order.gone"));
  const done = claim(r.file, id, { company: company.id, person: person.id, actor: actorOf(r.viewer), now: r.viewer.now });
  revalidatePath("/", "layout");
  return done ? form.succeeded(say("order.claimed")) : form.failed({}, say("order.gone"));
});
