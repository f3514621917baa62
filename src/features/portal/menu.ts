/** The portal's menu for whoever asks: as its owner ordered it, or every page that stands for itself. */
import { maysPay } from "@/core/access/payer";
import { fits } from "@/core/pages/audience";
import { inOrder, type Navigation } from "@/core/pages/page";
import type { PortalRequest } from "@/identity/requests/request";
import { allPagesFor, hasAny, readerFor } from "./pages-for";
import { sayOf } from "./queries";

export interface Entry {
  readonly id: string;
  readonly name: string;
  /** From the portal's base on, or a whole address outside. */
  readonly to: string;
}
export interface Group {
  readonly id: string;
  readonly name: string;
  readonly entries: readonly Entry[];
}

export function menuOf(r: PortalRequest): (Entry | Group)[] {
  const { definition } = r.published;
  const { navigation } = definition;
  const sold = definition.plans.length > 0;
  const plans: Entry[] = [
    ...(sold ? [{ id: "plans", name: sayOf(r)("frame.plans"), to: "/plans" }] : []),
    ...(sold && maysPay(r.published.policy, r.viewer) ? [{ id: "billing", name: sayOf(r)("frame.billing"), to: "/-/billing" }] : []),
  ];
  if (navigation.length === 0) return [...everyPage(r), ...plans];
  const reader = readerFor(r);
  const shown = inOrder(navigation).filter((n) => fits(n.audience, reader));
  const entries = (of: readonly Navigation[]): Entry[] =>
    of.flatMap((n): Entry[] => {
      if (n.leads.to === "address") return [{ id: n.id, name: n.name, to: n.leads.address }];
      const page = n.leads.to === "page" ? allPagesFor(r).page(n.leads.page) : undefined;
      return page && page.about === null && hasAny(r, page) ? [{ id: n.id, name: n.name || page.name, to: `/${page.address}` }] : [];
    });
  const all = shown
    .filter((n) => n.group === null)
    .flatMap((n): (Entry | Group)[] => {
      if (n.leads.to !== "group") return entries([n]);
      const inside = entries(shown.filter((x) => x.group === n.id));
      // A single entry needs no group around it.
      return inside.length > 1 ? [{ id: n.id, name: n.name, entries: inside }] : inside;
    });
  return [...all, ...plans];
}

function everyPage(r: PortalRequest): Entry[] {
  return allPagesFor(r).pages.flatMap((p): Entry[] => {
    if (p.about !== null || !hasAny(r, p)) return [];
    // Whoever is out finds the lists that are open to everybody; the home page is for those who are in.
    if (p.address === "") return r.viewer.person ? [{ id: p.id, name: p.name, to: "/" }] : [];
    return [{ id: p.id, name: p.name, to: `/${p.address}` }];
  });
}
