import { notFound } from "next/navigation";
import { toWords } from "@/core/exchange/present";
import { isRelation } from "@/core/schema/fields/natures";
import { type Field, type Table, targetOf, type Value } from "@/core/schema/types";
import { formatMoment } from "@/core/text/format";
import { FATES_A_PAGE, type Fate, type Fates, fatesOf } from "@/data/imports/fates";
import { Desk } from "@/data/records/desk";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { feedsOf, type Run, runBy } from "@/office/sources/feeds";
import { sourceById } from "@/office/sources/sources";
import { Link } from "@/ui/link";
import { Pager } from "@/ui/pager";
import { runWords } from "./words";

interface Of {
  readonly p: OfficePortal;
  readonly desk: Desk;
  readonly table: Table;
}

/** One reading of another system: what became of each of its rows. */
export function ReadingPage({ p, id, n, page }: { p: OfficePortal; id: string; n: string; page: string | undefined }) {
  const source = sourceById(p.file, id);
  const number = /^\d{1,15}$/.test(n) ? Number(n) : 0;
  const feed = source && feedsOf(p.file, id).find((f) => runBy(p.file, f.id, number));
  const run = feed && runBy(p.file, feed.id, number);
  if (!source || !feed || !run) notFound();
  const { schema } = p.live.policy;
  const table = feed.tableId === null ? undefined : schema.findTable(feed.tableId);
  const fates = fatesOf(p.file, p.owner, feed.tableId, run, page);
  const { locale, timeZone } = p.live.definition.portal;
  const at = `${p.at}/connections/systems/${id}`;
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={at}>
          {source.name}
        </Link>
      </nav>
      <div>
        <h1>
          {feed.name}, {formatMoment(new Date(run.at).toISOString(), locale, timeZone)}
        </h1>
        <p className="quiet mt-1">{runWords(p, run)}</p>
        {run.message && <p className="mt-1 text-accent">{run.message}</p>}
      </div>
      <Problems p={p} run={run} fates={fates} />
      {table && fates.total > 0 && (
        <section className="sheet overflow-hidden" aria-label="What became of each row">
          <ul className="divide-y divide-base-300">
            {fates.list.map((f) => (
              <FateLine key={`${f.record} ${f.became}`} of={{ p, table, desk: new Desk(p.file, p.live.policy, p.owner) }} f={f} />
            ))}
          </ul>
          <Pager
            page={fates.page}
            pages={fates.pages}
            size={FATES_A_PAGE}
            total={fates.total}
            locale={locale}
            href={(to) => `${at}/readings/${n}?page=${to}`}
          />
        </section>
      )}
      {fates.total === 0 && run.state === "done" && (
        <p className="quiet">
          {run.added + run.changed + run.removed > 0
            ? "Which rows these were is not kept any more, or the import was taken back."
            : "Nothing was added, changed or removed."}
        </p>
      )}
    </div>
  );
}

function Problems({ p, run, fates }: { p: OfficePortal; run: Run; fates: Fates }) {
  if (fates.problems.length === 0) return null;
  return (
    <section className="sheet grid gap-2 p-5" aria-labelledby="not-in">
      <div className="flex flex-wrap items-baseline justify-between gap-3">
        <h2 id="not-in">Not brought in</h2>
        <a className="link-plain text-sm" href={`${p.at}/data/import/${run.importId}/problems`} download>
          All of them as a file
        </a>
      </div>
      <ul className="divide-y divide-base-300">
        {fates.problems.map((x) => (
          <li key={`${x.line} ${x.column}`} className="py-1.5">
            <span className="quiet text-sm">
              Line {x.line}
              {x.column && `, ${x.column}`}
            </span>{" "}
            {x.reason}
          </li>
        ))}
      </ul>
    </section>
  );
}

const BECAME: Readonly<Record<Fate["became"], string>> = { added: "Added", changed: "Changed", removed: "Removed" };

function FateLine({ of, f }: { of: Of; f: Fate }) {
  const { p, table, desk } = of;
  const name = desk.labelOf(table, f.record) ?? table.singular;
  return (
    <li className="flex flex-wrap items-baseline gap-x-4 gap-y-0.5 px-4 py-2">
      <span className="quiet w-20 text-sm">{BECAME[f.became]}</span>
      {f.isThere ? (
        <Link className="link-plain" href={`${p.at}/check/${table.slug}/${f.record}`}>
          {name}
        </Link>
      ) : (
        <span>{f.became === "removed" ? name : `${name} (not there any more)`}</span>
      )}
      {f.changes.map((c) => (
        <span key={c.field.id} className="w-full text-sm sm:pl-24">
          {c.field.name}: before <q>{words(of, c.field, c.before)}</q>, now <q>{words(of, c.field, c.now)}</q>
        </span>
      ))}
    </li>
  );
}

function words({ p, desk }: Of, field: Field, value: Value): string {
  const { locale, timeZone } = p.live.definition.portal;
  if (!isRelation(field)) return toWords(field, value as Parameters<typeof toWords>[1], { locale, timeZone });
  const target = p.live.policy.schema.table(targetOf(field)!);
  return [value ?? []]
    .flat()
    .map((id) => desk.labelOf(target, String(id)) ?? "a record that is gone")
    .join(", ");
}
