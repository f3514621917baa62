/** How the back office calls a company's standing, and which of them wants a look first. */
import type { SubscriptionState } from "@/data/billing/standing";

export const STANDINGS: Readonly<Record<SubscriptionState, string>> = {
  grace: "payment due, in grace",
  lapsed: "lapsed",
  paused: "paused",
  trial: "on trial",
  ending: "cancelled, runs out",
  none: "no plan",
  active: "paid",
};

export const URGENCY: Readonly<Record<SubscriptionState, number>> = {
  grace: 0,
  lapsed: 1,
  trial: 2,
  ending: 3,
  paused: 4,
  none: 5,
  active: 6,
};
/** Whether somebody should look at a company's subscription. */
export const wantsLook = (s: SubscriptionState): boolean => s === "grace" || s === "lapsed";
