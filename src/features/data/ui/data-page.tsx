import { FileUp, Plug, Plus, Trash2 } from "lucide-react";
import { mayInOffice } from "@/core/access/who/office";
import { formatMoment } from "@/core/text/format";
import { recentImports } from "@/data/imports/jobs";
import { tablesAway } from "@/data/schema/put-away";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { count } from "@/office/words";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import type { TableRow } from "../queries";
import { tableRows } from "../queries";
import { TableAway } from "./bring-back";

interface Props {
  p: OfficePortal;
  params: { slug: string };
}

const WORDS = {
  received: "waits to be mapped",
  checking: "is being checked",
  checked: "is checked and waits to be brought in",
  failed: "failed",
} as const;

/** All tables of a portal with their counts, and the ways in for data. */
export async function DataPage({ p }: Props) {
  const rows = tableRows(p);
  const recent = recentImports(p.file, p.owner, 8);
  const open = recent.filter((j) => j.state !== "done" && j.state !== "given up");
  const done = recent.filter((j) => j.state === "done" && j.doneAt);
  const away = tablesAway(p.file, p.owner);
  const builds = mayInOffice(p.staff.role, "build");
  return (
    <div className="grid gap-6">
      <div className="flex flex-wrap items-center justify-between gap-3 lg:flex-nowrap">
        <div>
          <h1>Data</h1>
          <p className="quiet mt-1">What the agency keeps. Nobody on the clients' side sees any of it until a grant opens it.</p>
        </div>
        {builds && (
          <div className="flex shrink-0 flex-wrap gap-3">
            <Link href={`${p.at}/connections`} className="btn btn-ghost">
              <Plug size={16} aria-hidden /> Connections
            </Link>
            <Link href={`${p.at}/data/-/new-table`} className="btn">
              <Plus size={16} aria-hidden /> New table
            </Link>
            <Link href={`${p.at}/data/import`} className="btn btn-primary">
              <FileUp size={16} aria-hidden /> Bring a table in
            </Link>
          </div>
        )}
      </div>
      {builds &&
        open.map((j) => (
          <p key={j.id} className="sheet border-l-4 border-l-accent px-4 py-3" role="status">
            The import of {j.fileName} {WORDS[j.state as keyof typeof WORDS]}.{" "}
            <Link className="link-plain" href={`${p.at}/data/import/${j.id}`}>
              Go on with it
            </Link>
          </p>
        ))}
      <TableList rows={rows} p={p} builds={builds} />
      {builds && away.length > 0 && (
        <section className="grid gap-2" aria-label="Put away">
          <h2>Put away</h2>
          {away.map((t) => (
            <div key={t.id} className="flex flex-wrap items-center gap-3">
              <span>
                {t.name} <span className="quiet">{`${count(p, t.records)} records`}</span>
              </span>
              <TableAway portal={p.slug} id={t.id} name={t.name} />
            </div>
          ))}
        </section>
      )}
      <p>
        <Link className="link-plain inline-flex items-center gap-1.5" href={`${p.at}/data/-/bin`}>
          <Trash2 size={14} aria-hidden /> Bin
        </Link>
      </p>
      {builds && done.length > 0 && (
        <section className="grid gap-2" aria-label="What was brought in">
          <h2>Brought in lately</h2>
          <ul className="grid gap-1">
            {done.map((j) => (
              <li key={j.id}>
                <Link className="link-plain" href={`${p.at}/data/import/${j.id}`}>
                  {j.fileName}
                </Link>{" "}
                <span className="quiet">
                  {count(p, (j.result?.fresh ?? 0) + (j.result?.changed ?? 0))} records,{" "}
                  {formatMoment(j.doneAt!, p.live.definition.portal.locale, p.live.definition.portal.timeZone)}; can be taken back
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

interface TableListProps {
  readonly rows: TableRow[];
  readonly p: OfficePortal;
  readonly builds: boolean;
}

/** All tables. */
function TableList({ rows, p, builds }: TableListProps) {
  return (
    <FramedTable columns={[{ name: "Table" }, { name: "Records", num: true }, { name: "Fields", num: true }, { name: "Wall" }]}>
      {rows.map(({ table, records, wall, silence }) => (
        <tr key={table.id}>
          <td>
            <Link className="link-plain font-medium" href={`${p.at}/data/${table.slug}`}>
              {table.name}
            </Link>
          </td>
          <td className="num" data-label="Records">
            <Link href={`${p.at}/data/${table.slug}`}>{count(p, records)}</Link>
          </td>
          <td className="num" data-label="Fields">
            {builds ? (
              <Link href={`${p.at}/data/${table.slug}/shape`} aria-label={`Shape of ${table.name}: ${table.fields.length} fields`}>
                {table.fields.length}
              </Link>
            ) : (
              table.fields.length
            )}
          </td>
          <td className="max-w-none! whitespace-normal!">
            {wall} {silence && <span className="text-accent">Clients see nothing: {silence}.</span>}
          </td>
        </tr>
      ))}
    </FramedTable>
  );
}
