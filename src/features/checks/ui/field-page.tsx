import { notFound } from "next/navigation";
import { statusWords } from "@/core/access/who/viewer";
import { draftOf } from "@/data/definition/draft";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { Empty } from "@/ui/empty";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import type { Reader } from "../field";
import { fieldView } from "../field";
import { asOf } from "../record";
import { WhichVersion } from "./which-version";

interface Props {
  p: OfficePortal;
  params: { slug: string; table: string; field: string };
  search: { of?: string };
}

/** More than these are told as a number; the sightlines list everybody. */
const MOST_NAMED = 200;

/** Who sees a field, and by which grants. */
export async function FieldPage({ p, params, search }: Props) {
  const { table: tableSlug, field: fieldSlug } = params;
  const table = p.live.policy.schema.tableAt(tableSlug);
  const field = table?.fields.find((f) => f.slug === fieldSlug || f.id === fieldSlug);
  if (!table || !field) notFound();
  // The grid that leads here edits the draft, so the draft is meant where nothing else is said.
  const v = fieldView(p, table, field, search.of ?? "draft");
  const n = new Intl.NumberFormat(p.live.definition.portal.locale);
  const one = table.singular.toLowerCase();
  return (
    <div className="grid gap-6 [&>*]:min-w-0">
      <Link className="link-plain -mb-3 text-sm" href={`${p.at}/access/fields/${table.slug}`}>
        Fields of {table.name}
      </Link>
      <div className="flex flex-wrap items-start justify-between gap-3">
        <div>
          <h1>
            Who sees {field.name} of {table.name}
          </h1>
          <p className="quiet mt-1">
            {v.readers.length === 0 ? "Nobody but the owner. " : `${n.format(v.readers.length)} see it. `}
            {v.without > 0 && `${n.format(v.without)} see ${table.name.toLowerCase()} without it. `}
            {v.hasSafeguard ? (
              <Link className="link-plain" href={`${p.at}/safeguards`}>
                A safeguard keeps it from clients
              </Link>
            ) : (
              <Link
                className="link-plain"
                href={`${p.at}/safeguards?${new URLSearchParams({ who: "client", must: "field see", table: table.slug, field: field.slug })}#add`}
              >
                Make it a safeguard that no client does
              </Link>
            )}
          </p>
        </div>
        <WhichVersion which={v.which} hasDraft={draftOf(p.file, p.owner).changed} href={(of) => `?of=${of}`} />
      </div>
      <BecauseOfGrants v={v} p={p} />
      {v.readers.length > 0 && (
        <section aria-labelledby="who" className="grid gap-2">
          <h2 id="who">They see it</h2>
          <FramedTable columns={[{ name: "Person" }, { name: "Company" }, { name: "Roles" }, { name: "On" }]}>
            {v.readers.slice(0, MOST_NAMED).map((r) => (
              <tr key={asOf(r.who)}>
                <td className="font-medium">
                  {r.who.name}
                  {r.who.status === "invited" && <span className="quiet block font-normal">{statusWords(r.who.status)}</span>}
                </td>
                <td data-label="Company">{r.who.company ?? (r.who.personId ? p.live.definition.portal.name : "")}</td>
                <td data-label="Roles">{r.roles}</td>
                <td data-label="On">
                  <Link
                    className="link-plain"
                    href={`${p.at}/check/${table.slug}?as=${encodeURIComponent(asOf(r.who))}&show=seen&of=${v.which}`}
                  >
                    {r.partly ? "some of" : "all"} {n.format(r.seen)} {r.seen === 1 ? one : table.name.toLowerCase()} that they see
                  </Link>
                </td>
              </tr>
            ))}
          </FramedTable>
          {v.readers.length > MOST_NAMED && <p className="quiet">and {n.format(v.readers.length - MOST_NAMED)} more</p>}
        </section>
      )}
    </div>
  );
}

/** The grants that list the field. */
function BecauseOfGrants({
  v,
  p,
}: {
  v: { which: "live" | "draft"; readers: Reader[]; without: number; grants: { id: string; sentence: string }[]; hasSafeguard: boolean };
  p: OfficePortal;
}) {
  return (
    <section aria-labelledby="grants" className="grid gap-2">
      <h2 id="grants">Because of</h2>
      <ul className="sheet divide-y divide-base-300/60">
        {v.grants.length === 0 && <Empty title="No grant lists it">Tick it under a grant to open it.</Empty>}
        {v.grants.map((g) => (
          <li key={g.id} className="flex flex-wrap items-baseline justify-between gap-x-6 gap-y-1 px-4 py-2.5">
            <span className="min-w-0 flex-1 basis-72">{g.sentence}</span>
            <Link className="link-plain" href={`${p.at}/access/grants/${g.id}`}>
              Change<span className="sr-only"> this grant</span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
