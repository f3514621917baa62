/** "51 to 100 of 212", and the pages before and after. */
import { sayIn } from "@/core/words/words";
import { Link } from "./link";

interface Props {
  page: number;
  pages: number;
  size: number;
  total: number;
  locale: string;
  href: (page: number) => string;
  label?: string;
}

/** Which page of how many, and the way to the others. */
export function Pager({ page, pages, size, total, locale, href, label }: Props) {
  if (total === 0) return null;
  const say = sayIn(locale);
  const step = (to: number, words: string) =>
    to >= 1 && to <= pages ? (
      <Link className="link-plain" href={href(to)}>
        {words}
      </Link>
    ) : (
      <span className="quiet">{words}</span>
    );
  return (
    <nav
      aria-label={label ?? say("pages.name")}
      className="flex flex-wrap items-center justify-between gap-3 border-t border-base-300 px-4 py-2.5 text-sm"
    >
      <span className="tabular-nums">{say("pages.range", { from: (page - 1) * size + 1, to: Math.min(total, page * size), total })}</span>
      {pages > 1 && (
        <span className="flex gap-4">
          {step(page - 1, say("pages.previous"))}
          {step(page + 1, say("pages.next"))}
        </span>
      )}
    </nav>
  );
}
