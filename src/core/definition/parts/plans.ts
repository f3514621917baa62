/** What companies can pay for: features, plans with their allowances, prices, things bought once, and the rules of paying. */
import { z } from "zod";
import { CYCLE_IDS } from "../../prices/cycles";
import { repeated } from "../../prices/prices";
import { conditionSchema } from "../../schema/condition";
import type { Schema } from "../../schema/types";
import type { Part } from "../part";
import { id, name } from "./shared";

export const featureSchema = z.strictObject({ id, name });

export const planSchema = z.strictObject({
  id,
  name,
  about: z.string().max(300, "Keep what it is under 300 characters."),
  features: z.array(id).max(200),
  allowances: z
    .array(
      z.strictObject({
        table: id,
        perMonth: z.int("Write a whole number.").min(0, "Write 0 or more.").max(1_000_000),
        /** By calendar months of the portal's zone, or from the day of the month on which the subscription began. */
        by: z.enum(["month", "period"]),
        /** What counts of what is added; null for all. */
        filter: conditionSchema.nullable(),
      }),
    )
    .max(50),
  /** Active people of a company that it includes; null for as many as there are. */
  seats: z.int().min(1, "Leave one seat at the least.").max(100_000).nullable(),
  /** To whom it is offered: everybody, or the companies named. */
  offered: z.union([z.literal("all"), z.array(z.string().max(64)).max(1_000)]),
});
export type Plan = z.infer<typeof planSchema>;

const amount = z.int().min(0, "An amount is 0 or more.").max(1_000_000_000_000);
/** In minor units of the portal's currency. Once published it is never changed: it is retired, and another takes its place. */
export const priceSchema = z.strictObject({
  id,
  plan: id,
  cycle: z.enum(CYCLE_IDS),
  per: z.enum(["company", "seat"]),
  amount,
  /** For a price by the seat: the fewest seats that are paid for. */
  least: z.int("Write a whole number of seats.").min(1, "Leave one seat at the least.").max(10_000),
  trialDays: z.int().min(0).max(366, "A trial has a year at the most."),
  setup: amount,
  retired: z.boolean(),
});
export type Price = z.infer<typeof priceSchema>;

const days = z.int("Write a whole number of days.").min(1, "Write 1 or more days.").max(3_660).nullable();
/** Something bought once. What it opens holds for so many days, or for good. */
export const offerSchema = z.strictObject({
  id,
  name,
  about: z.string().max(300, "Keep what it is under 300 characters."),
  price: amount,
  /** Who may buy it: a company by whoever pays for it, a person of one for themselves, or anybody, with or without an account. */
  buyer: z.enum(["company", "person", "anybody"]),
  opens: z.discriminatedUnion("kind", [
    /** Nothing by itself: an order for the agency to fulfil. */
    z.strictObject({ kind: z.literal("order") }),
    z.strictObject({ kind: z.literal("feature"), feature: id, days }),
    /** One record of a table, chosen as it is bought. */
    z.strictObject({ kind: z.literal("record"), table: id, days }),
    /** All records of a table that satisfy a filter as it is bought. */
    z.strictObject({ kind: z.literal("set"), table: id, filter: conditionSchema.nullable(), days }),
    z.strictObject({ kind: z.literal("top-up"), table: id, n: z.int().min(1, "Write 1 or more.").max(100_000), days }),
  ]),
  retired: z.boolean(),
});
export type Offer = z.infer<typeof offerSchema>;

export const billingSchema = z.strictObject({
  tax: z.strictObject({
    mode: z.enum(["none", "inclusive", "exclusive"]),
    /** By the country of the company (ISO 3166-1 alpha-2); hundredths of a percent. */
    rates: z
      .array(
        z.strictObject({
          id,
          country: z.string().regex(/^[A-Z]{2}$/, "Write a country by its two letters, such as IE."),
          name: z.string().trim().min(1, "Say what the tax is called.").max(40),
          rate: z.int().min(0).max(10_000, "A rate is 100 % at the most."),
        }),
      )
      .max(250),
  }),
  /** Days for which the doors stay open after a payment that failed. */
  grace: z.int("Write a whole number of days.").min(0, "Write 0 or more.").max(90, "Grace lasts 90 days at the most."),
  /** Roles whose holders may pay for their company. */
  payers: z.array(id).max(60),
  /** Nothing is open before a plan is bought, but the way to it. */
  planFirst: z.boolean(),
  /** What everybody of a company is meanwhile: this role alone, or none. */
  unpaid: id.nullable(),
  /** What the numbers of invoices begin with. */
  numbers: z.string().regex(/^[A-Za-z0-9/-]{0,12}$/, "Invoice numbers begin with up to 12 letters, digits, - and /."),
});
export type Billing = z.infer<typeof billingSchema>;

/** What an owner begins a country's rate with; `country` is ISO 3166-1 alpha-2. Hundredths of a percent. */
export const newRate = (country: string): Billing["tax"]["rates"][number] => ({
  id: `rate-${country.toLowerCase()}`,
  country,
  name: "VAT",
  rate: 2_000,
});

export const NO_BILLING: Billing = { tax: { mode: "none", rates: [] }, grace: 7, payers: [], planFirst: false, unpaid: null, numbers: "" };

const shape = z.strictObject({
  features: z.array(featureSchema),
  plans: z.array(planSchema),
  prices: z.array(priceSchema).max(1_000),
  offers: z.array(offerSchema).max(500),
  billing: billingSchema,
});
type Plans = z.infer<typeof shape>;

interface OldPlan {
  id: string;
  month: number;
  year: number;
}

export const plansPart: Part<Plans> = {
  name: "plans",
  shape,
  migrations: [
    // 2: before it, a plan had one price a month and one a year, and there were no rules of paying.
    (old) => ({
      ...old,
      plans: ((old.plans ?? []) as OldPlan[]).map(({ month: _month, year: _year, ...p }) => ({ ...p, seats: null, offered: "all" })),
      prices: ((old.plans ?? []) as OldPlan[]).flatMap((p) =>
        (["month", "year"] as const).map((cycle) => ({
          id: `${p.id}-${cycle}`,
          plan: p.id,
          cycle,
          per: "company",
          amount: p[cycle],
          trialDays: 0,
          setup: 0,
          retired: false,
        })),
      ),
      billing: { tax: { mode: "none", rates: [] }, grace: 7, payers: [], planFirst: false, unpaid: null },
    }),
    // 3: before it, allowances counted all by the month, an offer opened nothing, and there were no least seats or prefixes of numbers.
    (old) => ({
      ...old,
      plans: (old.plans as { allowances: object[] }[]).map((p) => ({
        ...p,
        allowances: p.allowances.map((a) => ({ by: "month", filter: null, ...a })),
      })),
      prices: (old.prices as object[]).map((x) => ({ least: 1, ...x })),
      offers: ((old.offers ?? []) as object[]).map((o) => ({ buyer: "anybody", opens: { kind: "order" }, retired: false, ...o })),
      billing: { numbers: "", ...(old.billing as object) },
    }),
  ],
  problems: (d: Plans & { readonly roles?: readonly { readonly id: string; readonly side: string }[] }, schema: Schema) => {
    const plans = new Set(d.plans.map((p) => p.id));
    const features = new Set(d.features.map((f) => f.id));
    return [
      ...d.plans.flatMap((p) =>
        p.allowances.filter((a) => !schema.findTable(a.table)).map(() => `The plan ${p.name} has an allowance on a table that is gone.`),
      ),
      ...d.plans.flatMap((p) => (p.features.some((f) => !features.has(f)) ? [`The plan ${p.name} opens a feature that is gone.`] : [])),
      ...(d.prices.some((p) => !plans.has(p.plan)) ? ["A price is of a plan that is gone."] : []),
      ...(d.billing.unpaid !== null && d.roles?.find((r) => r.id === d.billing.unpaid)?.side !== "client"
        ? ["The role of whoever has no plan yet is gone, or is no client's."]
        : []),
      ...d.offers.flatMap((o) => offerProblems(o, features, schema)),
      ...repeated(d.prices, d.plans),
    ];
  },
};

function offerProblems({ name: offer, opens }: Offer, features: ReadonlySet<string>, schema: Schema): string[] {
  if (opens.kind === "feature" && !features.has(opens.feature)) return [`${offer}, bought once, opens a feature that is gone.`];
  return "table" in opens && !schema.findTable(opens.table) ? [`${offer}, bought once, is of a table that is gone.`] : [];
}
