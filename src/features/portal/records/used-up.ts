/** What a plan allows in a month is used: said with the day on which it begins anew, and the other way. */
import { formatDate } from "@/core/text/format";
import { refusalWords } from "@/data/records/form";
import type { WriteError } from "@/data/records/write/incoming";
import type { PortalRequest } from "@/identity/requests/request";
import { localeOf, sayOf } from "../queries";

/** As a form of the portal says a refusal. */
export function refusedIn(r: PortalRequest, e: WriteError): ReturnType<typeof refusalWords> {
  if (e.code !== "used-up") return refusalWords(e);
  const things = r.published.policy.schema.table(e.table).name.toLowerCase();
  const say = sayOf(r);
  const words = say("plans.used-up", { plan: e.plan, limit: e.limit, things, day: formatDate(e.again, localeOf(r).locale) });
  const more = r.published.definition.offers.find((o) => !o.retired && o.opens.kind === "top-up" && o.opens.table === e.table);
  return { fields: {}, message: more ? `${words} ${say("plans.used-up-more", { offer: more.name })}` : words };
}
