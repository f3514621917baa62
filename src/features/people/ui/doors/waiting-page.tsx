import { formatMoment } from "@/core/text/format";
import { companyFacts } from "@/data/tables/company-facts";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { waitingList } from "@/joining/approval";
import { leastRole } from "@/joining/least-role";
import { joining } from "@/joining/settings";
import { Empty } from "@/ui/empty";
import { Link } from "@/ui/link";
import { membershipChoices } from "../../choices";
import { decideAsked, decideWaiting } from "../../joining";
import { DecideForm } from "./decide-form";

const KIND: Readonly<Record<string, string>> = {
  company: "joins as a company",
  member: "says they are one of",
  alone: "joins alone",
  colleague: "is asked for by a lead of",
};

/** People who wait to be approved: who, since when, and what they wrote. */
export function WaitingPage({ p }: { p: OfficePortal }) {
  const list = waitingList(p.file, p.owner);
  const { locale, timeZone } = p.live.definition.portal;
  const { companies, roles } = membershipChoices(p);
  const client = roles.filter((r) => r.side === "client" && r.companyId === null && r.id !== "everyone");
  const member = joining(p.file).member ?? leastRole(p.file, "client");
  return (
    <div className="grid max-w-3xl gap-5 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={`${p.at}/people`}>
          People and companies
        </Link>
      </nav>
      <h1>Waiting for approval</h1>
      {list.length === 0 && (
        <div className="sheet">
          <Empty title="Nobody waits">Who joins by themselves, where that asks for approval, stands here.</Empty>
        </div>
      )}
      <ul className="grid gap-4">
        {list.map((w) => {
          const asked = w.kind === "colleague";
          const company = asked && w.company ? (companyFacts(p.file, w.company)?.name ?? null) : w.company;
          return (
            <li key={w.joinId ?? w.personId} className="sheet grid gap-3 p-5">
              <div>
                <Link className="link-plain font-medium" href={`${p.at}/people/${w.personId}`}>
                  {w.name}
                </Link>{" "}
                <span className="quiet break-all">{w.email}</span>
                <p className="quiet text-sm">
                  {w.kind ? `${KIND[w.kind] ?? w.kind}${company && w.kind !== "alone" ? `: ${company}` : ""}` : "was set to wait"}
                  {w.at !== null && ` · ${formatMoment(new Date(w.at).toISOString(), locale, timeZone)}`}
                  {w.agreed !== null && ` · agreed to version ${w.agreed} of the terms`}
                </p>
              </div>
              {w.wrote && <p className="border-l-2 border-base-300 pl-3 whitespace-pre-line">{w.wrote}</p>}
              <DecideForm
                action={asked && w.joinId ? decideAsked.bind(null, p.slug, w.joinId) : decideWaiting.bind(null, p.slug, w.personId)}
                id={w.joinId ?? w.personId}
                name={w.name}
                company={w.kind === "member" || w.kind === null}
                note={!asked}
                companies={companies}
                roles={client.map((r) => ({ id: r.id, name: r.name }))}
                member={member}
                said={companies.find((c) => c.name.toLowerCase() === company?.toLowerCase())?.id ?? null}
              />
            </li>
          );
        })}
      </ul>
    </div>
  );
}
