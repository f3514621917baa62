import { Plus } from "lucide-react";
import { formatDate } from "@/core/text/format";
import { dateIn } from "@/core/time/relative";
import { directory, personText, wordsMatch } from "@/data/people/directory";
import type { OfficePortal } from "@/identity/office-gate";
import { paged } from "@/office/paging";
import { Empty } from "@/ui/empty";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import { Pager } from "@/ui/pager";
import { SlashSearch } from "@/ui/slash-search";

interface Props {
  p: OfficePortal;
  params: { slug: string };
  search: { q?: string; company?: string; page?: string; companies?: string };
}

const [PEOPLE, COMPANIES] = [100, 50];

export async function PeoplePage({ p, search }: Props) {
  const { q = "", company = "", page: pageText, companies: companyPage } = search;
  const { portal } = p.live.definition;
  const { people, companies } = directory(p.file, p.owner, dateIn(p.now, portal.timeZone));
  const words = q.trim();
  const fitting = people.filter(
    (x) => (!company || x.memberships.some((m) => m.companyId === company)) && (!words || wordsMatch(words, personText(x))),
  );
  const shown = paged(fitting, pageText, PEOPLE);
  const firms = paged(companies, companyPage, COMPANIES);
  const at = `${p.at}/people`;
  const href = (more: Record<string, string>): string =>
    `${at}?${new URLSearchParams({ ...(q ? { q } : {}), ...(company ? { company } : {}), ...more })}`;
  return (
    <div className="grid gap-7 [&>*]:min-w-0">
      <h1>People and companies</h1>
      <section aria-labelledby="companies" className="grid gap-3">
        <div className="flex items-center justify-between gap-3">
          <h2 id="companies">Companies</h2>
          <Link className="btn btn-sm" href={`${at}/new-company`}>
            <Plus size={15} aria-hidden /> Add a company
          </Link>
        </div>
        {companies.length === 0 ? (
          <div className="sheet">
            <Empty title="No company yet">Add the first client company; its people come next.</Empty>
          </div>
        ) : (
          <FramedTable columns={[{ name: "Company" }, { name: "People", num: true }, { name: "Plan" }, { name: "Standing" }]}>
            {firms.list.map((c) => (
              <tr key={c.id} className={company === c.id ? "bg-base-200" : ""}>
                <td className="font-medium">{c.name}</td>
                <td className="num" data-label="People">
                  <Link className="link-plain" href={`${at}?company=${c.id}#people`}>
                    {c.people}
                  </Link>
                </td>
                <td data-label="Plan">{c.standing.plan?.name ?? "none"}</td>
                <td
                  data-label="Standing"
                  className={c.standing.state === "lapsed" || c.standing.state === "grace" ? "font-medium text-accent" : ""}
                >
                  {
                    { trial: "trial", active: "paid", grace: "payment failed, in its grace period", lapsed: "lapsed", none: "no plan" }[
                      c.standing.state
                    ]
                  }
                  {c.standing.until &&
                    `, ${c.standing.state === "lapsed" ? "since" : "until"} ${formatDate(c.standing.until, portal.locale)}`}
                </td>
              </tr>
            ))}
          </FramedTable>
        )}
        {firms.pages > 1 && (
          <Pager label="Pages of companies" {...firms} locale={portal.locale} href={(n) => href({ companies: String(n) })} />
        )}
      </section>
      <section aria-labelledby="people" className="grid gap-3 [&>*]:min-w-0">
        <div className="flex flex-wrap items-center justify-between gap-3">
          <h2 id="people">
            {company ? `People of ${companies.find((c) => c.id === company)?.name ?? "no such company"}` : "People"}{" "}
            <span className="quiet font-normal tabular-nums">{fitting.length.toLocaleString(portal.locale)}</span>
          </h2>
          <div className="flex flex-wrap items-center gap-3">
            {(company || words) && (
              <Link className="link-plain text-sm" href={at}>
                Show all
              </Link>
            )}
            <form action={at}>
              <SlashSearch label="Search people" value={q} />
            </form>
            <Link className="btn btn-primary btn-sm" href={`${at}/new`}>
              <Plus size={15} aria-hidden /> Add a person
            </Link>
          </div>
        </div>
        {fitting.length === 0 ? (
          <div className="sheet">
            <Empty title={people.length === 0 ? "Nobody yet" : "Nothing matches"}>
              {people.length === 0 ? "Add the first person; nobody is told until you send the invitation." : "Nobody fits this search."}
            </Empty>
          </div>
        ) : (
          <FramedTable columns={[{ name: "Name" }, { name: "E-mail" }, { name: "Belongs to" }, { name: "Status" }]}>
            {shown.list.map((x) => (
              <tr key={x.id}>
                <td>
                  <Link className="link-plain font-medium" href={`${at}/${x.id}`}>
                    {x.name}
                  </Link>
                </td>
                <td data-label="E-mail">{x.email}</td>
                <td data-label="Belongs to" className="max-w-80!">
                  {x.memberships.length === 0 ? (
                    <span className="font-medium text-accent">no company: they would see nothing</span>
                  ) : (
                    x.memberships.map((m) => `${m.company} (${m.roles.join(", ")})`).join("; ")
                  )}
                </td>
                <td data-label="Status">
                  <span className={`tag ${x.status === "awaiting approval" ? "border-accent! text-accent" : ""}`}>{x.status}</span>
                </td>
              </tr>
            ))}
          </FramedTable>
        )}
        {shown.pages > 1 && <Pager label="Pages of people" {...shown} locale={portal.locale} href={(n) => href({ page: String(n) })} />}
      </section>
    </div>
  );
}
