import { notFound } from "next/navigation";
import { statusWords } from "@/core/access/who/viewer";
import { draftOf } from "@/data/definition/draft";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { notArrived } from "@/office/sources/back/words";
import { Link } from "@/ui/link";
import { asOf, type RecordAsked, recordView } from "../record";
import { RecordWhy, WHO } from "./record-why";
import { WhichVersion } from "./which-version";

interface Props {
  p: OfficePortal;
  params: { slug: string; table: string; id: string };
  search: RecordAsked;
}

/** More than these are told as a number; the sightlines list everybody. */
const MOST_NAMED = 60;

/** Who sees a record, or changes it, and one of its fields; and why one person does or does not. */
export async function CheckRecordPage({ p, params, search }: Props) {
  const { table: tableSlug, id } = params;
  const table = p.live.policy.schema.tableAt(tableSlug);
  const v = table && recordView(p, table, id, search);
  if (!v) notFound();
  const now = { as: asOf(v.looked), to: v.to as string, field: v.field?.slug ?? "", of: v.which as string };
  const href = (asked: Partial<typeof now>): string => `?${new URLSearchParams({ ...now, ...asked })}`;
  const what = v.field ? `its ${v.field.name}` : "it";
  return (
    <div className="grid gap-6 [&>*]:min-w-0">
      <Link className="link-plain -mb-3 text-sm" href={`${p.at}/data/${table.slug}`}>
        {table.name}
      </Link>
      <div className="flex flex-wrap items-start justify-between gap-3">
        <div>
          <h1>{v.label}</h1>
          <p className="quiet mt-1">
            {v.owner ? `Belongs to ${v.owner}. ` : table.kind === "ordinary" ? "Belongs to no company. " : ""}
            {v.who.length === 0
              ? `Nobody ${WHO[v.to]} ${what} but the owner.`
              : `${v.who.length} of ${v.people.length} ${WHO[v.to].replace("sees", "see")} ${what}.`}
          </p>
        </div>
        <Link className="link-plain ml-auto" href={`${p.at}/log?record=${id}`}>
          What happened to it
        </Link>
        <WhichVersion which={v.which} hasDraft={draftOf(p.file, p.owner).changed} href={(of) => href({ of })} />
      </div>
      {notArrived(p.file, id).map((x) => (
        <p key={x.source} role="status" className="alert alert-warning alert-soft">
          <span>
            {x.words}{" "}
            <Link className="link-plain" href={`${p.at}/connections/systems/${x.source}`}>
              Look at it
            </Link>
          </span>
        </p>
      ))}
      <RecordWhy v={v} table={table} href={href} at={p.at} />
      {v.who.length > 0 && (
        <section aria-labelledby="who" className="grid gap-2">
          <h2 id="who">
            Who {WHO[v.to]} {what}
          </h2>
          <ul className="flex flex-wrap gap-x-5 gap-y-1.5">
            {v.who.slice(0, MOST_NAMED).map((s) => (
              <li key={asOf(s)}>
                <Link className="link-plain" href={href({ as: asOf(s) })}>
                  {s.name}
                </Link>
                {s.company && <span className="quiet">, {s.company}</span>}
                {s.status === "invited" && <span className="quiet">, {statusWords(s.status)}</span>}
              </li>
            ))}
            {v.who.length > MOST_NAMED && <li className="quiet">and {v.who.length - MOST_NAMED} more</li>}
          </ul>
        </section>
      )}
    </div>
  );
}
