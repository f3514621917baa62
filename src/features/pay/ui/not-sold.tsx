/** Nothing to pay: a sentence on why, and the way to where it makes sense to go. */
import { listIn } from "@/core/text/format";
import { payersOf } from "@/data/billing/people";
import type { PortalRequest } from "@/identity/requests/request";
import { Link } from "@/ui/link";
import { sayHere } from "../here";
import type { NotSold } from "../quote";

export function NotSoldNote({ r, why }: { r: PortalRequest; why: NotSold | { no: "none" } }) {
  const say = sayHere(r);
  const company = r.viewer.company;
  const { name } = r.published.definition.portal;
  const words = (): string => {
    switch (why.no) {
      case "seats":
        return say("buy.seats-least", { n: why.least });
      case "already":
        return say("buy.already", { company: company?.name ?? "" });
      case "have-it":
        return say("buy.have-it");
      case "due":
        return say("buy.due-first");
      case "ending":
        return say("buy.ending-first");
      case "paused":
        return say("buy.paused-first", { portal: name });
      case "offline":
        return say("buy.offline", { contact: r.published.definition.brand.contact || name });
      case "not-you": {
        const people = company ? payersOf(r.file, company.id).map((p) => p.name) : [];
        return people.length > 0
          ? say("buy.not-you", { company: company?.name ?? "", people: listIn(people, say.locale) })
          : say("buy.not-you-none", { company: company?.name ?? "", portal: name });
      }
      case "sign-in":
        return say("buy.sign-in-first");
      case "none":
        return say("buy.none");
      default:
        return say("buy.gone");
    }
  };
  const toBilling = why.no === "due" || why.no === "ending" || why.no === "already";
  return (
    <div className="sheet mb-6 flex flex-wrap items-baseline justify-between gap-3 p-5" role="status">
      <p>{words()}</p>
      {toBilling && (
        <Link className="link-plain" href={`${r.base}/-/billing`}>
          {say("billing.title")}
        </Link>
      )}
    </div>
  );
}
