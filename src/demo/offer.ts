/** What Fernhill sells to its clients, and how it looks. Prices are in pence. */
import type { Definition } from "@/core/definition/definition";
import { PLAIN_BRAND } from "@/core/definition/parts/brand";

export const demoOffer = (requests: string): Pick<Definition, "features" | "plans" | "offers" | "brand"> => ({
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
      month: 9000,
      year: 90000,
      features: ["portal"],
      allowances: [{ table: requests, perMonth: 2 }],
    },
    {
      id: "standard",
      name: "Standard",
      about: "With the repair history of every sign.",
      month: 18000,
      year: 180000,
      features: ["portal", "history"],
      allowances: [{ table: requests, perMonth: 4 }],
    },
    {
      id: "priority",
      name: "Priority",
      about: "For large sites: history, reports and first place in the queue.",
      month: 42000,
      year: 420000,
      features: ["portal", "history", "reports"],
      allowances: [{ table: requests, perMonth: 12 }],
    },
  ],
  offers: [
    { id: "audit", name: "Signage audit", about: "A walk through one site with a written report. Once only, for anybody.", price: 65000 },
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
