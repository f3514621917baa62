/** What Fernhill sells to its clients, and how it looks. Prices are in pence. */

import type { Definition } from "@/core/definition/definition";
import { PLAIN_BRAND } from "@/core/definition/parts/brand";
import { yearOf } from "@/core/prices/prices";

/** A month, and a year at ten months' price (common practice, no source). */
const both = (plan: string, amount: number): Definition["prices"] =>
  (["month", "year"] as const).map((cycle) => ({
    id: `${plan}-${cycle}`,
    plan,
    cycle,
    per: "company",
    amount: cycle === "year" ? yearOf(amount) : amount,
    least: 1,
    trialDays: 14,
    setup: 0,
    retired: false,
  }));

export const demoOffer = (requests: string): Pick<Definition, "features" | "plans" | "prices" | "offers" | "billing" | "brand"> => ({
  features: [
    { id: "portal", name: "the portal" },
    { id: "history", name: "repair history" },
    { id: "reports", name: "reports" },
  ],
  plans: [
    {
      id: "essential",
      name: "Essential",
      about: "For a site or two that change little.",
      features: ["portal"],
      allowances: [{ table: requests, perMonth: 2, by: "month", filter: null }],
      seats: null,
      offered: "all",
    },
    {
      id: "standard",
      name: "Standard",
      about: "With the repair history of every sign.",
      features: ["portal", "history"],
      allowances: [{ table: requests, perMonth: 4, by: "month", filter: null }],
      seats: null,
      offered: "all",
    },
    {
      id: "priority",
      name: "Priority",
      about: "For large sites: history, reports and first place in the queue.",
      features: ["portal", "history", "reports"],
      allowances: [{ table: requests, perMonth: 12, by: "month", filter: null }],
      seats: null,
      offered: "all",
    },
  ],
  prices: [...both("essential", 9_000), ...both("standard", 18_000), ...both("priority", 42_000)],
  billing: {
    tax: { mode: "exclusive", rates: [{ id: "vat-gb", country: "GB", name: "VAT", rate: 2_000 }] },
    grace: 7,
    payers: ["lead", "accounts"],
    planFirst: false,
    unpaid: null,
    numbers: "FW-",
  },
  offers: [
    {
      id: "audit",
      name: "Signage audit",
      about: "A walk through one site with a written report. Once only, for anybody.",
      price: 65000,
      buyer: "anybody",
      opens: { kind: "order" },
      retired: false,
    },
    {
      id: "more-requests",
      name: "Five more requests",
      about: "On top of what the plan has; they keep for three months.",
      price: 6000,
      buyer: "company",
      opens: { kind: "top-up", table: requests, n: 5, days: 92 },
      retired: false,
    },
    {
      id: "reports-quarter",
      name: "Reports for a quarter",
      about: "The reports of the Priority plan, for 92 days.",
      price: 9500,
      buyer: "company",
      opens: { kind: "feature", feature: "reports", days: 92 },
      retired: false,
    },
  ],
  brand: {
    colour: "#24507a",
    ground: "#f7f7f4",
    monogram: "Fw",
    motto: "Signs that get people there.",
    contact: "studio@fernhill.example",
    ...PLAIN_BRAND,
    signIn: { kind: "side", picture: null, welcome: "Your sites, signs and proofs, in one place." },
    footer: "Fernhill Wayfinding, 4 Tannery Row",
  },
});
