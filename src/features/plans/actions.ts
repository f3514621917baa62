"use server";
/** What is sold, in the draft: features, plans, prices, and the rules of paying. A published price is retired, never changed. */
import { revalidatePath } from "next/cache";
import { after } from "next/server";
import { z } from "zod";
import { config } from "@/config";
import type { Definition } from "@/core/definition/definition";
import { billingSchema, featureSchema, offerSchema, type Price, planSchema, priceSchema } from "@/core/definition/parts/plans";
import { actorOf } from "@/core/events/event";
import { CYCLE_IDS } from "@/core/prices/cycles";
import { repriced } from "@/core/prices/prices";
import { dateIn } from "@/core/time/relative";
import { endSubscription, setSubscription } from "@/data/billing/standing";
import { draftOf } from "@/data/definition/draft";
import { newId } from "@/data/file/ids";
import { booksWritten } from "@/data/tables/books-tables";
import { type OfficePortal, officePortalWrite } from "@/identity/requests/office-gate";
import { changeInDraft, type DraftAnswer } from "@/office/draft";
import { staleSignIn } from "@/office/fresh";
import { forgetAccount, keepAccount, shownAccount } from "@/orders/account";
import { providerOf } from "@/services/payments";
import { readAmount } from "./amount";
import { tellOfAccount } from "./tell-owners";

const revision = z.number().int();
const unread: DraftAnswer = { ok: false, messages: ["This could not be read. Load the page again."] };
const told = (e: z.ZodError): DraftAnswer => ({ ok: false, messages: [...new Set(e.issues.map((i) => i.message))].slice(0, 5) });
/** As short as they may be and still nobody else's. */
const fresh = (kind: string): string => `${kind}_${newId().replaceAll("-", "").slice(8)}`;

/** An item of a list by its id, put in its place or at the end. */
const put = <T extends { readonly id: string }>(list: readonly T[], item: T): T[] =>
  list.some((x) => x.id === item.id) ? list.map((x) => (x.id === item.id ? item : x)) : [...list, item];

async function edit(
  slug: string,
  seen: number,
  what: string,
  change: (d: Definition, p: OfficePortal) => Definition,
): Promise<DraftAnswer> {
  const p = await officePortalWrite(slug, "bill");
  if (!revision.safeParse(seen).success) return unread;
  const { definition } = draftOf(p.file, p.owner);
  const live = p.live.definition;
  const wrong = repriced(live.prices, change(definition, p).prices, live.plans);
  if (wrong.length > 0) return { ok: false, messages: wrong };
  return changeInDraft(p, seen, (d) => change(d, p), what);
}

export async function saveFeature(slug: string, seen: number, input: { id: string | null; name: string }): Promise<DraftAnswer> {
  const parsed = featureSchema.safeParse({ id: input.id ?? fresh("feature"), name: String(input.name).trim() });
  if (!parsed.success) return told(parsed.error);
  return edit(slug, seen, `the feature ${parsed.data.name}`, (d) => ({ ...d, features: put(d.features, parsed.data) }));
}

/** Plans lose it; grants, pages and sections that need it are named by the draft, and wait until they need something else. */
export async function dropFeature(slug: string, seen: number, id: string): Promise<DraftAnswer> {
  const p = await officePortalWrite(slug, "bill");
  const { definition: d } = draftOf(p.file, p.owner);
  const needed = [
    ...(d.grants.some((g) => g.feature === id) ? ["a grant"] : []),
    ...(d.pages.some((x) => x.audience.feature === id) || d.sections.some((x) => x.audience.feature === id) ? ["a page"] : []),
    ...(d.navigation.some((x) => x.audience.feature === id) ? ["the menu"] : []),
  ];
  if (needed.length > 0)
    return {
      ok: false,
      messages: [`It is needed by ${needed.join(" and ")}. Have that need something else first, or whoever could not see it would.`],
    };
  return edit(slug, seen, "taking a feature away", (x) => ({
    ...x,
    features: x.features.filter((f) => f.id !== id),
    plans: x.plans.map((plan) => ({ ...plan, features: plan.features.filter((f) => f !== id) })),
  }));
}

const planInput = planSchema.omit({ id: true }).extend({ id: z.string().nullable() });
export async function savePlan(slug: string, seen: number, input: z.infer<typeof planInput>): Promise<DraftAnswer> {
  const parsed = planInput.safeParse(input);
  if (!parsed.success) return told(parsed.error);
  const plan = { ...parsed.data, id: parsed.data.id ?? fresh("plan"), name: parsed.data.name.trim() };
  return edit(slug, seen, `the plan ${plan.name}`, (d) => ({ ...d, plans: put(d.plans, plan) }));
}

/** One that companies are on is retired by its prices; it goes only when nobody is on it. */
export async function dropPlan(slug: string, seen: number, id: string): Promise<DraftAnswer> {
  const p = await officePortalWrite(slug, "bill");
  const on = p.file.db.prepare("SELECT count(*) FROM sys_subscriptions WHERE plan = ?").pluck().get(String(id)) as number;
  if (on > 0)
    return {
      ok: false,
      messages: [`${on === 1 ? "One company is" : `${on} companies are`} on it. Retire its prices, so that nobody else chooses it.`],
    };
  return edit(slug, seen, "taking a plan away", (d) => ({
    ...d,
    plans: d.plans.filter((x) => x.id !== id),
    prices: d.prices.filter((x) => x.plan !== id),
  }));
}

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

export async function addPrice(slug: string, seen: number, input: PriceInput): Promise<DraftAnswer> {
  const p = await officePortalWrite(slug, "bill");
  const parsed = priceInput.safeParse(input);
  if (!parsed.success) return told(parsed.error);
  const amount = readAmount(parsed.data.amount, p.live.definition.portal.currency);
  const setup = readAmount(parsed.data.setup, p.live.definition.portal.currency);
  if (typeof amount === "string" || parsed.data.amount.trim() === "")
    return { ok: false, messages: [typeof amount === "string" ? amount : "Write an amount."] };
  if (typeof setup === "string") return { ok: false, messages: [setup] };
  const price = priceSchema.safeParse({
    ...parsed.data,
    least: parsed.data.per === "seat" ? parsed.data.least : 1,
    amount,
    setup,
    id: fresh("price"),
    retired: false,
  });
  if (!price.success) return told(price.error);
  return edit(slug, seen, "a price", (d) => ({ ...d, prices: [...d.prices, price.data] }));
}

export async function retirePrice(slug: string, seen: number, id: string, retired: boolean): Promise<DraftAnswer> {
  return edit(slug, seen, retired ? "retiring a price" : "bringing a price back", (d) => ({
    ...d,
    prices: d.prices.map((x): Price => (x.id === id ? { ...x, retired: retired === true } : x)),
  }));
}

/** Of one that was never published. */
export async function dropPrice(slug: string, seen: number, id: string): Promise<DraftAnswer> {
  return edit(slug, seen, "taking a price away", (d) => ({ ...d, prices: d.prices.filter((x) => x.id !== id) }));
}

const offerInput = offerSchema.omit({ id: true, price: true }).extend({ id: z.string().nullable(), price: z.string().max(40) });
export type OfferInput = z.infer<typeof offerInput>;

export async function saveOffer(slug: string, seen: number, input: OfferInput): Promise<DraftAnswer> {
  const p = await officePortalWrite(slug, "bill");
  const parsed = offerInput.safeParse(input);
  if (!parsed.success) return told(parsed.error);
  const price = readAmount(parsed.data.price, p.live.definition.portal.currency);
  if (typeof price === "string" || parsed.data.price.trim() === "")
    return { ok: false, messages: [typeof price === "string" ? price : "Write an amount."] };
  const offer = offerSchema.safeParse({ ...parsed.data, name: parsed.data.name.trim(), id: parsed.data.id ?? fresh("offer"), price });
  if (!offer.success) return told(offer.error);
  return edit(slug, seen, `${offer.data.name}, bought once`, (d) => ({ ...d, offers: put(d.offers, offer.data) }));
}

/** Of one that was never published; else it is not sold any more, and what was bought stays. */
export async function dropOffer(slug: string, seen: number, id: string): Promise<DraftAnswer> {
  const p = await officePortalWrite(slug, "bill");
  if (p.live.definition.offers.some((o) => o.id === String(id)))
    return { ok: false, messages: ["It is published: say that it is not sold any more instead."] };
  return edit(slug, seen, "taking away what is bought once", (d) => ({ ...d, offers: d.offers.filter((o) => o.id !== String(id)) }));
}

export async function saveBilling(slug: string, seen: number, input: unknown): Promise<DraftAnswer> {
  const parsed = billingSchema.safeParse(input);
  if (!parsed.success) return told(parsed.error);
  const countries = parsed.data.tax.rates.map((r) => r.country);
  const twice = countries.find((c, i) => countries.indexOf(c) !== i);
  if (twice) return { ok: false, messages: [`There are two rates for ${twice}. Leave one.`] };
  return edit(slug, seen, "the rules of paying", (d) => ({ ...d, billing: parsed.data }));
}

const accountInput = z.object({ secret: z.string().trim().max(200), hook: z.string().trim().max(200) });

/** The account at the provider: asked of it once before it is kept, so that a key that opens nothing is said at once. */
export async function setAccount(slug: string, input: { secret: string; hook: string }): Promise<DraftAnswer> {
  const p = await officePortalWrite(slug, "bill");
  const stale = staleSignIn(p);
  if (stale) return { ok: false, messages: [stale] };
  const provider = providerOf(config());
  const parsed = accountInput.safeParse(input);
  if (!parsed.success || !provider) return unread;
  const { secret, hook } = parsed.data;
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
}

export async function dropAccount(slug: string): Promise<DraftAnswer> {
  const p = await officePortalWrite(slug, "bill");
  const stale = staleSignIn(p);
  if (stale) return { ok: false, messages: [stale] };
  forgetAccount(p.file, p.owner);
  after(() => tellOfAccount(p, "was removed"));
  revalidatePath(p.at, "layout");
  return { ok: true };
}

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
export async function setPaid(slug: string, input: PaidInput): Promise<DraftAnswer> {
  const p = await officePortalWrite(slug, "bill");
  const parsed = paidInput.safeParse(input);
  if (!parsed.success) return told(parsed.error);
  const { company, plan, state, until, reason } = parsed.data;
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
}
