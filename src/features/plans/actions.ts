"use server";
/** What is sold, in the draft: features, plans, prices, and the rules of paying. A published price is retired, never changed. */
import { revalidatePath } from "next/cache";
import { after } from "next/server";
import { z } from "zod";
import { config } from "@/config";
import { billingSchema, featureSchema, offerSchema, type Price, planSchema, priceSchema } from "@/core/definition/parts/plans";
import { actorOf } from "@/core/events/event";
import { CYCLE_IDS } from "@/core/prices/cycles";
import { repriced } from "@/core/prices/prices";
import { dateIn } from "@/core/time/relative";
import { endSubscription, setSubscription } from "@/data/billing/standing";
import { draftOf } from "@/data/definition/draft";
import { newId } from "@/data/file/ids";
import { booksWritten } from "@/data/tables/books-tables";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { type Given, readOne, type Takes, word, yes } from "@/identity/requests/takes";
import { type DraftChange, draftAction, officeAction, type Unread, unread } from "@/office/action";
import type { DraftAnswer } from "@/office/draft";
import { staleSignIn } from "@/office/fresh";
import { forgetAccount, keepAccount, shownAccount } from "@/orders/account";
import { providerOf } from "@/services/payments";
import { readAmount } from "./amount";
import { tellOfAccount } from "./tell-owners";

/** A new id, shortened as it shows in addresses. Its random part stays long enough that no two are alike. */
const fresh = (kind: string): string => `${kind}_${newId().replaceAll("-", "").slice(8)}`;

/** An item of a list by its id, put in its place or at the end. */
const put = <T extends { readonly id: string }>(list: readonly T[], item: T): T[] =>
  list.some((x) => x.id === item.id) ? list.map((x) => (x.id === item.id ? item : x)) : [...list, item];

/** No published price changes: what companies agreed to pay stays what it is. */
function repricedBy(p: OfficePortal, edit: DraftChange["edit"]): string[] {
  const { prices, plans } = p.live.definition;
  return repriced(prices, edit(draftOf(p.file, p.owner).definition).prices, plans);
}

/** A change of what is sold. */
const sold = <const T extends Takes>(takes: readonly [...T], work: (p: OfficePortal, ...given: Given<T>) => DraftChange | Unread) =>
  draftAction<T>("bill", takes, work, repricedBy);

const newFeature = z
  .object({ id: z.string().nullable(), name: z.string() })
  .transform((f) => ({ id: f.id ?? fresh("feature"), name: f.name.trim() }))
  .pipe(featureSchema);
export const saveFeature = sold([newFeature], (_, feature) => ({
  what: `the feature ${feature.name}`,
  edit: (d) => ({ ...d, features: put(d.features, feature) }),
}));

/** Plans lose it; grants, pages and sections that need it are named by the draft, and wait until they need something else. */
export const dropFeature = sold([word], (p, id) => {
  const { definition: d } = draftOf(p.file, p.owner);
  const needed = [
    ...(d.grants.some((g) => g.feature === id) ? ["a grant"] : []),
    ...(d.pages.some((x) => x.audience.feature === id) || d.sections.some((x) => x.audience.feature === id) ? ["a page"] : []),
    ...(d.navigation.some((x) => x.audience.feature === id) ? ["the menu"] : []),
  ];
  if (needed.length > 0)
    return unread([`It is needed by ${needed.join(" and ")}. Have that need something else first, or whoever could not see it would.`]);
  return {
    what: "taking a feature away",
    edit: (x) => ({
      ...x,
      features: x.features.filter((f) => f.id !== id),
      plans: x.plans.map((plan) => ({ ...plan, features: plan.features.filter((f) => f !== id) })),
    }),
  };
});

const planInput = planSchema.omit({ id: true }).extend({ id: z.string().nullable() });
export const savePlan = sold([planInput], (_, input) => {
  const plan = { ...input, id: input.id ?? fresh("plan"), name: input.name.trim() };
  return { what: `the plan ${plan.name}`, edit: (d) => ({ ...d, plans: put(d.plans, plan) }) };
});

/** One that companies are on is retired by its prices; it goes only when nobody is on it. */
export const dropPlan = sold([word], (p, id) => {
  const on = p.file.db.prepare("SELECT count(*) FROM sys_subscriptions WHERE plan = ?").pluck().get(id) as number;
  if (on > 0)
    return unread([`${on === 1 ? "One company is" : `${on} companies are`} on it. Retire its prices, so that nobody else chooses it.`]);
  return {
    what: "taking a plan away",
    edit: (d) => ({ ...d, plans: d.plans.filter((x) => x.id !== id), prices: d.prices.filter((x) => x.plan !== id) }),
  };
});

const priceInput = z.object({
  plan: z.string().max(64),
  cycle: z.enum(CYCLE_IDS),
  per: z.enum(["company", "seat"]),
  least: z.number(),
  /** As it was written. */
  amount: z.string().max(40),
  setup: z.string().max(40),
  trialDays: z.number().int(),
});
export type PriceInput = z.infer<typeof priceInput>;

/** Amounts as they were written, in the portal's currency; `may` says which can be left empty. */
function amountsOf(p: OfficePortal, written: string, may: boolean): { ok: true; value: number } | Unread {
  const amount = readAmount(written, p.live.definition.portal.currency);
  if (typeof amount === "string") return unread([amount]);
  return written.trim() === "" && !may ? unread(["Write an amount."]) : { ok: true, value: amount };
}

export const addPrice = sold([priceInput], (p, input) => {
  const amount = amountsOf(p, input.amount, false);
  if (!amount.ok) return amount;
  const setup = amountsOf(p, input.setup, true);
  if (!setup.ok) return setup;
  const price = readOne(priceSchema, {
    ...input,
    least: input.per === "seat" ? input.least : 1,
    amount: amount.value,
    setup: setup.value,
    id: fresh("price"),
    retired: false,
  });
  if (!price.ok) return unread(price.messages);
  return { what: "a price", edit: (d) => ({ ...d, prices: [...d.prices, price.value] }) };
});

export const retirePrice = sold([word, yes], (_, id, retired) => ({
  what: retired ? "retiring a price" : "bringing a price back",
  edit: (d) => ({ ...d, prices: d.prices.map((x): Price => (x.id === id ? { ...x, retired } : x)) }),
}));

/** Removes a price that was never published. */
export const dropPrice = sold([word], (_, id) => ({
  what: "taking a price away",
  edit: (d) => ({ ...d, prices: d.prices.filter((x) => x.id !== id) }),
}));

const offerInput = offerSchema.omit({ id: true, price: true }).extend({ id: z.string().nullable(), price: z.string().max(40) });
export type OfferInput = z.infer<typeof offerInput>;

export const saveOffer = sold([offerInput], (p, input) => {
  const price = amountsOf(p, input.price, false);
  if (!price.ok) return price;
  const offer = readOne(offerSchema, { ...input, name: input.name.trim(), id: input.id ?? fresh("offer"), price: price.value });
  if (!offer.ok) return unread(offer.messages);
  return { what: `${offer.value.name}, bought once`, edit: (d) => ({ ...d, offers: put(d.offers, offer.value) }) };
});

/** Of one that was never published; else it is not sold any more, and what was bought stays. */
export const dropOffer = sold([word], (p, id) => {
  if (p.live.definition.offers.some((o) => o.id === id)) return unread(["It is published: say that it is not sold any more instead."]);
  return { what: "taking away what is bought once", edit: (d) => ({ ...d, offers: d.offers.filter((o) => o.id !== id) }) };
});

export const saveBilling = sold([billingSchema], (_, billing) => {
  const countries = billing.tax.rates.map((r) => r.country);
  const twice = countries.find((c, i) => countries.indexOf(c) !== i);
  if (twice) return unread([`There are two rates for ${twice}. Leave one.`]);
  return { what: "the rules of paying", edit: (d) => ({ ...d, billing }) };
});

const accountInput = z.object({ secret: z.string().trim().max(200), hook: z.string().trim().max(200) });

/** The account at the provider: asked of it once before it is kept, so that a key that opens nothing is said at once. */
export const setAccount = officeAction("bill", [accountInput], async (p, { secret, hook }): Promise<DraftAnswer> => {
  const stale = staleSignIn(p);
  if (stale) return { ok: false, messages: [stale] };
  const provider = providerOf(config());
  if (!provider) return unread(["No provider of payments is set up."]);
  const mode = provider.modeOf(secret);
  if (mode === null) return { ok: false, messages: [`That is no key of ${provider.name}.`] };
  if (!provider.isHook(hook))
    return { ok: false, messages: ["The secret of its events begins with whsec_ and is longer. Copy all of it."] };
  const known = shownAccount(p.file, p.owner);
  if (known && known.mode !== mode && booksWritten(p.file))
    return {
      ok: false,
      messages: [
        `This portal has orders of a ${known.mode} account. A ${mode} key would mix what was tried with what is real: take those keys for another portal.`,
      ],
    };
  const asked = await provider
    .payments({ secret, mode })
    .customer({ name: p.live.definition.portal.name, email: "", reference: p.file.id }, `setting-up-${newId()}`);
  if (!asked.ok) return { ok: false, messages: [asked.error.message] };
  keepAccount(p.file, p.owner, { secret, hook, mode });
  after(() => tellOfAccount(p, known ? "was changed" : "was set up"));
  revalidatePath(p.at, "layout");
  return { ok: true };
});

export const dropAccount = officeAction("bill", [], async (p): Promise<DraftAnswer> => {
  const stale = staleSignIn(p);
  if (stale) return { ok: false, messages: [stale] };
  forgetAccount(p.file, p.owner);
  after(() => tellOfAccount(p, "was removed"));
  revalidatePath(p.at, "layout");
  return { ok: true };
});

const paidInput = z.object({
  company: z.string().max(64),
  /** Empty for none. */
  plan: z.string().max(64),
  state: z.enum(["trial", "active", "grace", "lapsed"]),
  until: z.union([z.literal(""), z.iso.date("Write the day as YYYY-MM-DD.")]),
  reason: z.string().trim().min(3, "Say why, in a few words: it stands in the log.").max(200),
});
export type PaidInput = z.infer<typeof paidInput>;

/** What a company has paid for outside (a bank transfer, an agreement), by hand. It holds at once, and stands in the log with its reason. */
export const setPaid = officeAction("bill", [paidInput], async (p, input): Promise<DraftAnswer> => {
  const { company, plan, state, until, reason } = input;
  const d = p.live.definition;
  const { companies } = p.live.policy.schema;
  if (!p.desk.read(companies, company)) return { ok: false, messages: ["This company is not here any more. Load the page again."] };
  const by = { actor: actorOf(p.owner), via: "page", at: p.now } as const;
  const timeZone = d.portal.timeZone;
  if (plan === "") endSubscription(p.file, company, by, reason);
  else if (!d.plans.some((x) => x.id === plan)) return { ok: false, messages: ["Choose a plan that is published."] };
  else if ((state === "trial" || state === "grace") && until === "")
    return { ok: false, messages: ["Say until when: a trial and a grace have an end."] };
  else if (until !== "" && state !== "lapsed" && until < dateIn(p.now, timeZone))
    return { ok: false, messages: ["That day is over. Choose a later one, or that it has lapsed."] };
  else setSubscription(p.file, company, { plan, state, until: until || null, timeZone }, by, reason);
  revalidatePath(p.at, "layout");
  return { ok: true };
});
