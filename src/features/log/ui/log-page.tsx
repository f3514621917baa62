import { Download } from "lucide-react";
import { mayInOffice } from "@/core/access/who/office";
import { formatBytes, formatDate, formatMoment } from "@/core/text/format";
import { kindsSoFar, type LogRow, readLog } from "@/data/log/log";
import { earlierLogs, logAge } from "@/data/log/thin";
import { companyList } from "@/data/people/directory";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { CheckTabs } from "@/office/ui/check-tabs";
import { Empty } from "@/ui/empty";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import { SlashSearch } from "@/ui/slash-search";
import { askedOf, type LogSearch } from "../asked";
import { LogAge } from "./log-age";

const PAGE = 100;

/** What happened, by whom, to what: nothing here can be changed. */
export async function LogPage({ p, search }: { p: OfficePortal; search: LogSearch }) {
  const asked = askedOf(search);
  const found = readLog(p.file, p.owner, { ...asked, limit: PAGE + 1 });
  const rows = found.slice(0, PAGE);
  const { locale, timeZone } = p.live.definition.portal;
  const at = `${p.at}/log`;
  const kept = Object.fromEntries(Object.entries(search).filter(([, v]) => v)) as Record<string, string>;
  const href = (more: Record<string, string>): string => {
    const query = new URLSearchParams(Object.entries({ ...kept, ...more }).filter(([, v]) => v));
    return query.size > 0 ? `${at}?${query}` : at;
  };
  const narrowed = Object.keys(kept).some((k) => k !== "before");
  const companies = companyList(p.file, p.owner);
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <CheckTabs at={p.at} role={p.staff.role} />
      <div className="flex flex-wrap items-center justify-between gap-3">
        <div>
          <h1>What happened</h1>
          <p className="quiet mt-1">Who did what, newest first. Nothing here can be changed.</p>
        </div>
        <a className="btn btn-sm" href={`${at}/csv${href({ before: "" }).slice(at.length)}`} download>
          <Download size={15} aria-hidden /> Download as CSV
        </a>
      </div>
      <form action={at} className="flex flex-wrap items-center gap-3">
        <SlashSearch label="Search what happened" value={search.q ?? ""} />
        {(["who", "record", "table"] as const).map((k) => search[k] && <input key={k} type="hidden" name={k} value={search[k]} />)}
        <select name="act" aria-label="Act" className="select select-sm w-52" defaultValue={search.act ?? ""}>
          <option value="">any act</option>
          {kindsSoFar(p.file, p.owner).map((k) => (
            <option key={k.kind} value={k.kind}>
              {k.says}
            </option>
          ))}
        </select>
        <select name="company" aria-label="Company" className="select select-sm w-52" defaultValue={search.company ?? ""}>
          <option value="">any company</option>
          {companies.map((c) => (
            <option key={c.id} value={c.id}>
              {c.name}
            </option>
          ))}
        </select>
        <button type="submit" className="btn btn-sm">
          Show
        </button>
        {narrowed && (
          <Link className="link-plain text-sm" href={at}>
            Show all
          </Link>
        )}
      </form>
      {rows.length === 0 ? (
        <div className="sheet">
          <Empty title={narrowed ? "Nothing matches" : "Nothing has happened yet"}>
            {narrowed ? "Nothing that happened fits." : "What people and the agency do is noted here."}
          </Empty>
        </div>
      ) : (
        <Happenings rows={rows} locale={locale} timeZone={timeZone} href={href} />
      )}
      {found.length > PAGE && (
        <div>
          <Link className="btn btn-sm" href={href({ before: String(rows.at(-1)!.id) })}>
            What happened before
          </Link>
        </div>
      )}
      <LogKept p={p} />
    </div>
  );
}

/** How long it is kept, and the files of what is older. */
async function LogKept({ p }: { p: OfficePortal }) {
  const { locale } = p.live.definition.portal;
  const earlier = await earlierLogs(p.file, p.owner);
  const sets = mayInOffice(p.staff.role, "build");
  if (!sets && earlier.length === 0) return null;
  return (
    <section className="grid gap-3 border-t border-base-300 pt-5">
      <h2>Older entries</h2>
      {sets && <LogAge portal={p.slug} months={logAge(p.file)} />}
      {earlier.length > 0 && (
        <ul className="grid gap-1">
          {earlier.map((e) => (
            <li key={e.name}>
              <a className="link-plain" href={`${p.at}/log/earlier/${e.name}`} download>
                {formatDate(e.from, locale)} to {formatDate(e.until, locale)}
              </a>
              <span className="quiet"> {formatBytes(e.bytes, locale)}, CSV in a gzip file</span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

interface HappeningsProps {
  readonly rows: LogRow[];
  readonly locale: string;
  readonly timeZone: string;
  readonly href: (more: Record<string, string>) => string;
}

/** What happened, a row each. */
function Happenings({ rows, locale, timeZone, href }: HappeningsProps) {
  return (
    <FramedTable columns={[{ name: "When" }, { name: "Who" }, { name: "Did what" }, { name: "Of whom" }]}>
      {rows.map((r) => (
        <tr key={r.id}>
          <td className="quiet whitespace-nowrap">{formatMoment(new Date(r.at).toISOString(), locale, timeZone)}</td>
          <td data-label="Who">
            <Link className="link-plain font-medium" href={href({ who: r.actor, before: "" })}>
              {r.who}
            </Link>
            {r.via !== "page" && <span className="quiet"> by {r.via}</span>}
          </td>
          <td data-label="Did what" className="max-w-none! whitespace-normal!">
            {r.says}
            {(r.record || r.table) && " "}
            {r.record && r.table ? (
              <>
                <Link className="link-plain" href={href({ record: r.record.id, before: "" })}>
                  {r.record.name}
                </Link>
                <span className="quiet"> in {r.table.name}</span>
              </>
            ) : (
              r.table && <span className="quiet">in {r.table.name}</span>
            )}
            {r.detail && <span className="quiet">: {r.detail}</span>}
            {r.changes.length > 0 && (
              <ul className="mt-1 text-sm">
                {r.changes.slice(0, 12).map((c) => (
                  <li key={c.field}>
                    {c.field}: <span className="quiet">{(c.before || "empty").slice(0, 120)}</span> to {(c.after || "empty").slice(0, 120)}
                  </li>
                ))}
              </ul>
            )}
          </td>
          <td data-label="Of whom">
            {r.company && (
              <Link className="link-plain" href={href({ company: r.company.id, before: "" })}>
                {r.company.name}
              </Link>
            )}
          </td>
        </tr>
      ))}
    </FramedTable>
  );
}
