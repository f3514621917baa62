import Link from "next/link";
import { notFound } from "next/navigation";
import { explainRecord, seers } from "@/data/records/explain";
import { lookAs, namesOf, sentences } from "@/features/checks/queries";
import { everyone } from "@/identity/everyone";
import { officePortal } from "@/identity/office-gate";
import { AutoSelect } from "@/ui/auto-submit";

type Props = { params: Promise<{ slug: string; table: string; id: string }>; searchParams: Promise<{ as?: string }> };

export const metadata = { title: "Who sees it" };

/** More than these are told as a number; the sightlines list everybody. */
const MOST_NAMED = 60;

export default async function Page({ params, searchParams }: Props) {
  const { slug, table: tableSlug, id } = await params;
  const p = await officePortal(slug);
  const table = p.live.policy.schema.tableBySlug(tableSlug);
  if (!table) notFound();
  const people = everyone(p.file, p.live.definition, p.owner, Date.now());
  const see = seers(p.file, p.live.policy, p.owner, people, table.id, id);
  const asOf = (s: (typeof people)[number]): string => (s.personId ? `${s.personId} ${s.membershipId ?? ""}`.trim() : "visitor");
  const as = (await searchParams).as ?? asOf(see[0] ?? people[0]!);
  const looked = lookAs(p, ...(as.split(" ") as [string, string?]));
  const one = looked && explainRecord(p.file, p.live.policy, p.owner, looked.viewer, table.id, id);
  if (!one) notFound();
  const owner = one.companyId ? namesOf(p).company(one.companyId) : null;
  const seen = new Set(see.map(asOf));
  return (
    <div className="grid gap-6 [&>*]:min-w-0">
      <Link className="link-plain -mb-3 text-sm" href={`${p.at}/data/${table.slug}`}>
        {table.name}
      </Link>
      <div>
        <h1>{one.label}</h1>
        <p className="quiet mt-1">
          {owner ? `Belongs to ${owner}. ` : table.kind === "ordinary" ? "Belongs to no company. " : ""}
          {see.length === 0 ? "Nobody sees it but the owner." : `Seen by ${see.length} of ${people.length}.`}
        </p>
      </div>
      <section className="sheet grid gap-4 p-5" aria-labelledby="why">
        <form className="flex flex-wrap items-end gap-3">
          <label className="grid gap-1">
            <span id="why" className="field-label mb-0!">
              Why, for
            </span>
            <AutoSelect key={as} name="as" defaultValue={as} className="select w-full min-w-72 md:min-w-md">
              {people.map((s) => (
                <option key={asOf(s)} value={asOf(s)}>
                  {s.name}
                  {s.company ? `, ${s.company}` : ""}
                  {seen.has(asOf(s)) ? " (sees it)" : ""}
                </option>
              ))}
            </AutoSelect>
          </label>
          <noscript>
            <button type="submit" className="btn btn-sm">
              Show
            </button>
          </noscript>
        </form>
        <p className="font-semibold">
          {one.explanation.outcome === "allowed"
            ? `${looked.name} sees it, ${one.explanation.fields.length} of ${table.fields.length} fields.`
            : `${looked.name} does not see it.`}
        </p>
        <ol className="grid list-decimal gap-1 pl-5">
          {sentences(p, one.explanation).map((s) => (
            <li key={s.text} className={s.holds ? "" : "text-accent"}>
              {s.text}
            </li>
          ))}
        </ol>
        {one.explanation.outcome === "allowed" && one.explanation.fields.length < table.fields.length && (
          <p className="quiet">
            Hidden from them here:{" "}
            {table.fields
              .filter((f) => !one.explanation.fields.includes(f.id))
              .map((f) => f.name)
              .join(", ")}
            .
          </p>
        )}
      </section>
      {see.length > 0 && (
        <section aria-labelledby="who" className="grid gap-2">
          <h2 id="who">Who sees it</h2>
          <ul className="flex flex-wrap gap-x-5 gap-y-1.5">
            {see.slice(0, MOST_NAMED).map((s) => (
              <li key={asOf(s)}>
                <Link className="link-plain" href={`?as=${encodeURIComponent(asOf(s))}`}>
                  {s.name}
                </Link>
                {s.company && <span className="quiet">, {s.company}</span>}
              </li>
            ))}
            {see.length > MOST_NAMED && <li className="quiet">and {see.length - MOST_NAMED} more</li>}
          </ul>
        </section>
      )}
    </div>
  );
}
