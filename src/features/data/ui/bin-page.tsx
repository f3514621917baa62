import { formatMoment } from "@/core/text/format";
import { BIN_DAYS, binned } from "@/data/records/write/bin";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { count } from "@/office/words";
import { Empty } from "@/ui/empty";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import { Pager } from "@/ui/pager";
import { BringBack } from "./bring-back";

const SIZE = 50;

interface Props {
  p: OfficePortal;
  search: Record<string, string | string[] | undefined>;
}

/** Removed records, of one table or of all, which can be put back. */
export function BinPage({ p, search }: Props) {
  const { schema } = p.live.policy;
  const { locale, timeZone } = p.live.definition.portal;
  const table = schema.tables.find((t) => t.slug === search.table);
  const page = Math.max(1, Number.parseInt(String(search.page ?? "1"), 10) || 1);
  const { records, total } = binned(p.desk, { ...(table ? { table: table.id } : {}), limit: SIZE, offset: (page - 1) * SIZE });
  const href = (n: number): string =>
    `${p.at}/data/-/bin?${new URLSearchParams({ ...(table ? { table: table.slug } : {}), ...(n > 1 ? { page: String(n) } : {}) })}`;
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={`${p.at}/data`}>
          Data
        </Link>
      </nav>
      <div>
        <h1>Bin</h1>
        <p className="quiet mt-1">What was removed in the last {BIN_DAYS} days. It comes back as it was, with all that pointed to it.</p>
      </div>
      {table && (
        <p>
          <span className="tag">
            {table.name} alone
            <Link className="link-plain ml-2" href={`${p.at}/data/-/bin`}>
              Show all
            </Link>
          </span>
        </p>
      )}
      {records.length === 0 ? (
        <div className="sheet">
          <Empty title="Nothing in the bin">Records that are removed stand here until they are {BIN_DAYS} days old.</Empty>
        </div>
      ) : (
        <FramedTable columns={[{ name: "Record" }, { name: "Table" }, { name: "Removed" }, { name: "With it", num: true }, { name: "" }]}>
          {records.map((r) => {
            const of = schema.table(r.table);
            return (
              <tr key={r.id}>
                <td className="font-medium">{r.label || `One ${of.singular.toLowerCase()}`}</td>
                <td data-label="Table">{of.name}</td>
                <td data-label="Removed">{formatMoment(r.at, locale, timeZone)}</td>
                <td className="num" data-label="With it">
                  {r.withIt > 0 ? count(p, r.withIt) : ""}
                </td>
                <td className="acts">
                  <BringBack portal={p.slug} id={r.id} name={r.label || `the ${of.singular.toLowerCase()}`} />
                </td>
              </tr>
            );
          })}
        </FramedTable>
      )}
      <Pager page={page} pages={Math.max(1, Math.ceil(total / SIZE))} size={SIZE} total={total} locale={locale} href={href} />
    </div>
  );
}
