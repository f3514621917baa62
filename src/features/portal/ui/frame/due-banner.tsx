/** What stands over every page while a payment is due, or the plan has ended: for whoever may pay, with the way to pay. */
import { maysPay } from "@/core/access/payer";
import { formatDate } from "@/core/text/format";
import { providerRow } from "@/data/billing/buyers";
import type { PortalRequest } from "@/identity/requests/request";
import { Link } from "@/ui/link";
import { sayOf, standingHere } from "../../queries";
import { marked } from "../marked";

export function DueBanner({ r }: { r: PortalRequest }) {
  const standing = standingHere(r);
  if (!standing || (standing.state !== "grace" && standing.state !== "lapsed") || !maysPay(r.published.policy, r.viewer)) return null;
  const say = sayOf(r);
  const sells = providerRow(r.file) !== undefined;
  const to = standing.state === "grace" ? "/-/billing" : "/plans";
  const way = (words: string) =>
    sells ? (
      <Link className="font-semibold underline" href={r.base + to}>
        {words}
      </Link>
    ) : null;
  const day = standing.until ? formatDate(standing.until, say.locale) : "";
  return (
    <div role="status" className="border-b border-[#b8461a] bg-[#fbe6dc] text-[#4a1d0b]">
      <p className="mx-auto max-w-6xl px-4 py-2 text-sm md:px-8">
        {standing.state === "grace"
          ? marked(say.marked("due.banner", { day }, { way }))
          : marked(say.marked("due.lapsed", { company: r.viewer.company?.name ?? "" }, { way }))}
      </p>
    </div>
  );
}
