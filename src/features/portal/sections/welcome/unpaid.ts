/** Nothing is open because the company has no plan that runs: what is said of it, and whether whoever reads it may choose one. */
import { maysPay } from "@/core/access/payer";
import type { PortalRequest } from "@/identity/requests/request";
import { standingHere } from "../../queries";

export interface Unpaid {
  readonly why: "home.plan-none" | "home.plan-over";
  readonly pays: boolean;
}

export function unpaidHere(r: PortalRequest): Unpaid | null {
  const standing = standingHere(r);
  const { definition, policy } = r.published;
  if (!standing || definition.plans.length === 0 || r.viewer.person?.status !== "active") return null;
  const { state } = standing;
  if (state !== "none" && state !== "lapsed" && state !== "paused") return null;
  return { why: state === "none" ? "home.plan-none" : "home.plan-over", pays: maysPay(policy, r.viewer) };
}
