import { DoorOpen, Hourglass, ListPlus, Mail, Plus, UserPlus } from "lucide-react";
import { EVERYONE } from "@/core/access/rules";
import { mayInOffice } from "@/core/access/who/office";
import { formatDate } from "@/core/text/format";
import type { DirectoryCompany } from "@/data/people/directory";
import { portalAddress } from "@/identity/requests/addresses";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { paged } from "@/office/paging";
import { STANDINGS as COMPANY_STANDINGS } from "@/office/standings";
import { waitingIn } from "@/office/waiting";
import { Empty } from "@/ui/empty";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import { Pager } from "@/ui/pager";
import { SlashSearch } from "@/ui/slash-search";
import { peopleLike, type Search, STANDINGS } from "../../queries";
import { PeopleList } from "./people-list";

interface Props {
  p: OfficePortal;
  params: { slug: string };
  search: Search;
}

const [PEOPLE, COMPANIES] = [100, 50];

/** People and companies of a portal: searched, narrowed, and worked with several at once. */
export async function PeoplePage({ p, search }: Props) {
  const { q = "", company = "", standing = "", group = "", ids = "", page: pageText, companies: companyPage } = search;
  const { portal } = p.live.definition;
  const { all, fitting, companies } = peopleLike(p, search);
  const waiting = waitingIn(p);
  const words = q.trim();
  const shown = paged(fitting, pageText, PEOPLE);
  const firms = paged(companies, companyPage, COMPANIES);
  const at = `${p.at}/people`;
  const href = (more: Record<string, string>): string =>
    `${at}?${new URLSearchParams({ ...(q ? { q } : {}), ...(company ? { company } : {}), ...(standing ? { standing } : {}), ...(group ? { group } : {}), ...(ids ? { ids } : {}), ...more })}`;
  return (
    <div className="grid gap-7 [&>*]:min-w-0">
      <PeopleHead waiting={waiting} at={at} p={p} />
      <CompanyList at={at} companies={companies} firms={firms} company={company} portal={portal} href={href} />
      <section aria-labelledby="people" className="grid gap-3 [&>*]:min-w-0">
        <div className="flex flex-wrap items-center justify-between gap-3">
          <h2 id="people">
            {company ? `People of ${companies.find((c) => c.id === company)?.name ?? "no such company"}` : "People"}{" "}
            <span className="quiet font-normal tabular-nums">{fitting.length.toLocaleString(portal.locale)}</span>
          </h2>
          <div className="flex flex-wrap gap-2">
            <Link className="btn btn-sm" href={`${at}/from-list`}>
              <ListPlus size={15} aria-hidden /> Invite from a list
            </Link>
            <Link className="btn btn-primary btn-sm" href={`${at}/new`}>
              <Plus size={15} aria-hidden /> Add a person
            </Link>
          </div>
        </div>
        <PeopleSearch at={at} company={company} q={q} standing={standing} group={group} words={words} ids={ids} />
        {fitting.length === 0 ? (
          <div className="sheet">
            <Empty title={all === 0 ? "Nobody yet" : "Nothing matches"}>
              {all === 0 ? "Add the first person; nobody is told until you send the invitation." : "Nobody fits this search."}
            </Empty>
          </div>
        ) : (
          <PeopleList
            key={`${q} ${company} ${standing} ${group} ${ids}`}
            picked={ids ? ids.split(",") : []}
            portal={p.slug}
            at={at}
            rows={shown.list}
            total={fitting.length}
            search={{ q, company, standing }}
            grouped={group === "company"}
            roles={p.live.definition.roles
              .filter((r) => r.side !== "visitor" && r.id !== EVERYONE)
              .map((r) => ({ id: r.id, name: r.name }))}
            locale={portal.locale}
            name={portal.name}
            address={portalAddress(p.slug)}
            words={mayInOffice(p.staff.role, "build") ? `${at}/outbox/words` : null}
          />
        )}
        {shown.pages > 1 && <Pager label="Pages of people" {...shown} locale={portal.locale} href={(n) => href({ page: String(n) })} />}
      </section>
    </div>
  );
}

interface CompanyListProps {
  readonly at: string;
  readonly companies: readonly DirectoryCompany[];
  readonly firms: { list: DirectoryCompany[]; page: number; pages: number; size: number; total: number };
  readonly company: string;
  readonly portal: { name: string; locale: string; timeZone: string; currency: string };
  readonly href: (more: Record<string, string>) => string;
}

/** Companies. */
function CompanyList({ at, companies, firms, company, portal, href }: CompanyListProps) {
  return (
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
        <FramedTable columns={[{ name: "Company" }, { name: "People", num: true }, { name: "Plan" }, { name: "Standing" }, { name: "" }]}>
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
                {COMPANY_STANDINGS[c.standing.state]}
                {c.standing.until &&
                  `, ${c.standing.state === "lapsed" ? "since" : "until"} ${formatDate(c.standing.until, portal.locale)}`}
              </td>
              <td className="acts">
                <Link className="link-plain text-sm" href={`${at}/companies/${c.id}`} aria-label={`Merge another company into ${c.name}`}>
                  Merge
                </Link>
              </td>
            </tr>
          ))}
        </FramedTable>
      )}
      {firms.pages > 1 && (
        <Pager label="Pages of companies" {...firms} locale={portal.locale} href={(n) => href({ companies: String(n) })} />
      )}
    </section>
  );
}

interface PeopleHeadProps {
  readonly waiting: number;
  readonly at: string;
  readonly p: OfficePortal;
}

/** Adding, inviting, and who waits. */
function PeopleHead({ waiting, at, p }: PeopleHeadProps) {
  return (
    <div className="flex flex-wrap items-center justify-between gap-3">
      <h1>People and companies</h1>
      <div className="flex flex-wrap gap-2">
        {waiting > 0 && (
          <Link className="btn btn-sm" href={`${at}/waiting`}>
            <Hourglass size={15} aria-hidden /> {waiting} to approve
          </Link>
        )}
        {mayInOffice(p.staff.role, "build") && (
          <>
            <Link className="btn btn-ghost btn-sm" href={`${at}/doors`}>
              <DoorOpen size={15} aria-hidden /> Doors
            </Link>
            <Link className="btn btn-ghost btn-sm" href={`${at}/joining`}>
              <UserPlus size={15} aria-hidden /> Joining
            </Link>
          </>
        )}
        <Link className="btn btn-ghost btn-sm" href={`${at}/outbox`}>
          <Mail size={15} aria-hidden /> Outbox
        </Link>
      </div>
    </div>
  );
}

interface PeopleSearchProps {
  readonly at: string;
  readonly company: string;
  readonly q: string;
  readonly standing: string;
  readonly group: string;
  readonly words: string;
  readonly ids: string;
}

/** Search and grouping. */
function PeopleSearch({ at, company, q, standing, group, words, ids }: PeopleSearchProps) {
  return (
    <div className="flex flex-wrap items-center gap-3">
      <form action={at} className="flex flex-wrap items-center gap-3 sm:flex-nowrap">
        {company && <input type="hidden" name="company" value={company} />}
        <SlashSearch label="Search people" value={q} />
        <select name="standing" aria-label="Standing" className="select select-sm w-44" defaultValue={standing}>
          <option value="">any standing</option>
          {STANDINGS.map((s) => (
            <option key={s}>{s}</option>
          ))}
        </select>
        <label className="flex items-center gap-2 text-sm whitespace-nowrap">
          <input type="checkbox" name="group" value="company" className="checkbox checkbox-sm" defaultChecked={group === "company"} />
          by company
        </label>
        <button type="submit" className="btn btn-sm">
          Show
        </button>
      </form>
      {(company || words || standing || ids) && (
        <Link className="link-plain text-sm" href={at}>
          Show all
        </Link>
      )}
    </div>
  );
}
