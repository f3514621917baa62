/** Over the preview: as whom it is looked at, and what is being bought. */
import { Link } from "@/ui/link";
import type { PreviewChoices } from "../preview";

interface Props {
  at: string;
  as: string;
  query: Record<string, string | string[] | undefined>;
  choices: PreviewChoices;
}

/** Above what is looked at before it is sold: as whom. */
export function PreviewBar({ at, as, query, choices }: Props) {
  const here = `${at}/-/preview-plans`;
  const bought = query.price ? `price=${query.price}` : query.offer ? `offer=${query.offer}` : "";
  return (
    <div className="sticky top-0 z-30 flex flex-wrap items-center gap-3 border-b border-base-300 bg-base-100 px-4 py-2.5 text-sm">
      <Link className="link-plain inline-flex min-h-6 items-center" href={`${at}/plans`}>
        Back to plans
      </Link>
      <strong>The draft, as they find it</strong>
      <form action={here} className="flex flex-wrap items-center gap-2">
        {query.price && <input type="hidden" name="price" value={String(query.price)} />}
        {query.price && <input type="hidden" name="seats" value={String(query.seats ?? "1")} />}
        {query.offer && <input type="hidden" name="offer" value={String(query.offer)} />}
        <label className="flex items-center gap-2">
          As
          <select name="as" className="select select-sm w-auto" defaultValue={as}>
            {choices.people.map((x) => (
              <option key={x.id} value={x.id}>
                {x.name}
              </option>
            ))}
          </select>
        </label>
        <button type="submit" className="btn btn-sm">
          Look
        </button>
      </form>
      <nav aria-label="What is bought" className="flex flex-wrap gap-x-3 gap-y-1">
        <Link
          className="link-plain inline-flex min-h-6 items-center"
          href={`${here}?as=${as}`}
          aria-current={bought === "" ? "page" : undefined}
        >
          All plans
        </Link>
        {choices.buys.map((b) => (
          <Link
            key={b.query}
            className="link-plain inline-flex min-h-6 items-center"
            href={`${here}?as=${as}&${b.query}`}
            aria-current={bought !== "" && b.query.startsWith(bought) ? "page" : undefined}
          >
            {b.name}
          </Link>
        ))}
      </nav>
    </div>
  );
}
