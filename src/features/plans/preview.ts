/** What somebody would find of the draft's plans and checkout: looked at through a handle that cannot write. */

import { priceWords } from "@/core/billing/changes";
import { recordsOpened } from "@/core/billing/opens";
import { formatMoney } from "@/core/text/format";
import { dateIn } from "@/core/time/relative";
import { payersOf } from "@/data/billing/people";
import { draftOf } from "@/data/definition/draft";
import { directory } from "@/data/people/directory";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { previewRequest } from "@/identity/requests/preview";
import type { PortalRequest } from "@/identity/requests/request";
import { AS_VISITOR } from "@/identity/requests/see-as";

export interface PreviewChoices {
  readonly people: readonly { readonly id: string; readonly name: string }[];
  readonly buys: readonly { readonly query: string; readonly name: string }[];
}

type Query = Record<string, string | string[] | undefined>;

/** Null where nobody is called so any more. */
export function previewOf(p: OfficePortal, query: Query): { r: PortalRequest; as: string; choices: PreviewChoices } | null {
  const { definition: d } = draftOf(p.file, p.owner);
  const { currency, locale, timeZone } = d.portal;
  const money = (n: number): string => formatMoney(n, currency, locale);
  const { people, companies } = directory(p.file, p.owner, dateIn(p.now, timeZone));
  const of = (id: string | null): string => companies.find((c) => c.id === id)?.name ?? "the agency";
  const known = people
    .filter((x) => x.status === "active" && x.memberships.length > 0)
    .slice(0, 200)
    .map((x) => ({ id: x.id, name: `${x.name}, ${of(x.memberships[0]!.companyId)}` }));
  // At first as somebody who may pay, who finds the most.
  const payer = companies.flatMap((c) => payersOf(p.file, c.id))[0]?.id;
  const as = typeof query.as === "string" ? query.as : (payer ?? AS_VISITOR);
  const r = previewRequest(p, d, { personId: as, membershipId: null }, "/plans");
  const plan = (id: string): string => d.plans.find((x) => x.id === id)?.name ?? "";
  const buys = [
    ...d.prices
      .filter((x) => !x.retired)
      .map((x) => ({ query: `price=${x.id}&seats=${x.least}`, name: `${plan(x.plan)}, ${priceWords(x, money)}` })),
    ...d.offers.filter((o) => !o.retired && recordsOpened(o.opens) !== "one").map((o) => ({ query: `offer=${o.id}`, name: o.name })),
  ];
  return r ? { r, as, choices: { people: [{ id: AS_VISITOR, name: "A visitor" }, ...known], buys } } : null;
}
