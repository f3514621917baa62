import { ChevronRight } from "lucide-react";
import { notFound } from "next/navigation";
import type { Policy } from "@/core/access/policy";
import { mayInOffice } from "@/core/access/who/office";
import type { Names } from "@/core/access/words/wording";
import type { Table } from "@/core/schema/types";
import { Desk } from "@/data/records/desk";
import { countShown, type Explained, explainRecords, SHOWS, type Show } from "@/data/records/query/explain";
import { countOf } from "@/data/tables/count";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { namesOf } from "@/office/names";
import { count } from "@/office/words";
import { Empty } from "@/ui/empty";
import { Link } from "@/ui/link";
import { Pager } from "@/ui/pager";
import { SlashSearch } from "@/ui/slash-search";
import type { Adding, Looked } from "../queries";
import { addingTo, lookAs, lookedAt, sentences } from "../queries";

interface Props {
  p: OfficePortal;
  params: { slug: string; table: string };
  search: { as?: string; q?: string; page?: string; show?: string; of?: string };
}

const SIZE = 50;
const SHOW_WORDS: Record<Show, string> = { all: "All", seen: "Seen", unseen: "Not seen" };
const EMPTY_WORDS: Record<Show, string> = { all: "No record yet", seen: "None of them is seen", unseen: "All of them are seen" };

/** The records of a table that somebody sees, or does not, each with why. */
export async function CheckTablePage({ p, params, search }: Props) {
  const { table: tableSlug } = params;
  const { as = "", q = "", page: pageText, show: shown = "all", of = "live" } = search;
  const show: Show = SHOWS.find((s) => s === shown) ?? "all";
  const { which, policy } = lookedAt(p, of);
  const table = policy.schema.tableAt(tableSlug);
  const [person, membership] = as.split(" ");
  const looked = lookAs(p, person, membership);
  if (!table || !looked) notFound();
  const all = countOf(p.file, table.id);
  const total = countShown({ file: p.file, policy, viewer: p.owner }, looked.viewer, table.id, { show, search: q });
  const pages = Math.max(1, Math.ceil(total / SIZE));
  const page = Math.min(pages, Math.max(1, Number.parseInt(pageText ?? "1", 10) || 1));
  const rows = explainRecords({ file: p.file, policy, viewer: p.owner }, looked.viewer, table.id, {
    limit: SIZE,
    offset: (page - 1) * SIZE,
    search: q,
    show,
  });
  const seen = new Desk(p.file, policy, looked.viewer).count(table);
  const names = namesOf(p);
  const adding = addingTo(p, policy, looked.viewer, table);
  const at = `${p.at}/check/${table.slug}`;
  const href = (n: number): string =>
    `${at}?${new URLSearchParams({ as, show, of: which, ...(q ? { q } : {}), ...(n > 1 ? { page: String(n) } : {}) })}`;
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <Link className="link-plain -mb-2 text-sm" href={`${p.at}/check?as=${encodeURIComponent(as)}`}>
        What {looked.name} {looked.notInYet ? "will see" : "sees"}
      </Link>
      <SeenCount looked={looked} p={p} seen={seen} all={all} table={table} which={which} />
      <AddingWhy adding={adding} table={table} />
      <div className="flex flex-wrap items-center gap-3">
        <form action={at} className="contents">
          <input type="hidden" name="as" value={as} />
          <input type="hidden" name="show" value={show} />
          <input type="hidden" name="of" value={which} />
          <SlashSearch label={`Search ${table.name.toLowerCase()}`} value={q} />
        </form>
        <nav aria-label="Records shown" className="join">
          {SHOWS.map((s) => (
            <Link
              key={s}
              href={`${at}?${new URLSearchParams({ as, show: s, of: which, ...(q ? { q } : {}) })}`}
              aria-current={s === show ? "true" : undefined}
              className={`btn join-item ${s === show ? "btn-primary" : ""}`}
            >
              {SHOW_WORDS[s]}
            </Link>
          ))}
        </nav>
      </div>
      <div className="sheet overflow-hidden">
        {rows.length === 0 && <Empty title={q ? "Nothing matches" : EMPTY_WORDS[show]} />}
        <RecordsWhy rows={rows} names={names} table={table} p={p} policy={policy} />
        <Pager page={page} pages={pages} size={SIZE} total={total} locale={p.live.definition.portal.locale} href={href} />
      </div>
    </div>
  );
}

interface RecordsWhyProps {
  readonly rows: Explained[];
  readonly names: Names;
  readonly table: Table;
  readonly p: OfficePortal;
  readonly policy: Policy;
}

/** Records, each with why it is seen. */
function RecordsWhy({ rows, names, table, p, policy }: RecordsWhyProps) {
  return (
    <ul className="divide-y divide-base-300/60">
      {rows.map((r) => (
        <li key={r.id}>
          <details className="group">
            <summary className="flex cursor-pointer items-baseline justify-between gap-4 px-4 py-2 hover:bg-base-200/60">
              <span className="inline-flex items-center gap-1.5 font-medium">
                <ChevronRight size={15} aria-hidden className="opacity-60 transition-transform group-open:rotate-90" />
                {r.label}
                {r.companyId && r.companyId !== r.id && (
                  <span className="quiet font-normal">{names.company(r.companyId) ?? "a removed company"}</span>
                )}
              </span>
              <span className={r.explanation.outcome === "allowed" ? "text-success" : "quiet"}>
                {r.explanation.outcome === "allowed" ? `seen, ${r.explanation.fields.length} of ${table.fields.length} fields` : "not seen"}
              </span>
            </summary>
            <ol className="grid list-decimal gap-1 px-9 pb-3 text-[0.94rem]">
              {sentences(p, r.explanation, policy).map((s) => (
                <li key={s.text} className={s.holds ? "" : "text-accent"}>
                  {s.text}
                </li>
              ))}
              {r.explanation.outcome === "allowed" && r.explanation.fields.length < table.fields.length && (
                <li>
                  Hidden on this record:{" "}
                  {table.fields
                    .filter((f) => !r.explanation.fields.includes(f.id))
                    .map((f) => f.name)
                    .join(", ")}
                  .
                </li>
              )}
            </ol>
          </details>
        </li>
      ))}
    </ul>
  );
}

/** Whether they may add records, and why. */
function AddingWhy({ adding, table }: { adding: Adding; table: Table }) {
  return (
    <details className="sheet group px-4 py-2.5">
      <summary className="flex cursor-pointer items-center gap-1.5">
        <ChevronRight size={15} aria-hidden className="shrink-0 opacity-60 transition-transform group-open:rotate-90" />
        <span>
          <span className="font-medium">
            {adding.may ? "May" : "May not"} add {table.name.toLowerCase()}.
          </span>{" "}
          {adding.may && <span className="quiet">Sets {adding.sets.join(", ") || "no field"}.</span>}
        </span>
      </summary>
      <ul className="grid list-disc gap-1 px-9 pt-2 text-[0.94rem]">
        {adding.because.map((text) => (
          <li key={text} className={adding.may ? "" : "text-accent"}>
            {text}
          </li>
        ))}
      </ul>
    </details>
  );
}

interface SeenCountProps {
  readonly looked: Looked;
  readonly p: OfficePortal;
  readonly seen: number;
  readonly all: number;
  readonly table: Table;
  readonly which: "live" | "draft";
}

/** How many they see. */
function SeenCount({ looked, p, seen, all, table, which }: SeenCountProps) {
  return (
    <div>
      <h1>
        {looked.name} {looked.notInYet ? "will see" : "sees"} {count(p, seen)} of {count(p, all)} {table.name.toLowerCase()}
      </h1>
      <p className="quiet mt-1">
        {which === "draft" && <span className="tag mr-2 border-accent! text-accent">By the draft</span>}
        {looked.as}. Open a line to read why.
        {looked.viewer.person && mayInOffice(p.staff.role, "build") && (
          <>
            {" "}
            <Link
              className="link-plain"
              href={`${p.at}/safeguards?${new URLSearchParams({
                who: "person",
                person: looked.viewer.person.id,
                company: looked.viewer.company?.id ?? "",
                must: "count exactly",
                table: table.slug,
                n: String(seen),
              })}#add`}
            >
              Make this number a safeguard
            </Link>
          </>
        )}
      </p>
    </div>
  );
}
