/** One box over all lists; its answers stand on a page of their own. */
import { Search as Glass } from "lucide-react";
import type { SectionOf } from "@/core/pages/page";
import { openTables, sayOf } from "../../queries";
import { headingId, type SectionProps } from "../at";

export function SearchSection({ at, section }: SectionProps<SectionOf<"search">>) {
  const { r } = at;
  const { tables } = section.config;
  const open = openTables(r).filter((t) => !tables || tables.includes(t.id));
  if (open.length === 0) return null;
  const say = sayOf(r);
  return (
    <search>
      {section.title && <h2 id={headingId(section)}>{section.title}</h2>}
      <form action={`${r.base}/-/search`} className="flex max-w-xl gap-2">
        <label className="input grow">
          <Glass size={15} aria-hidden className="opacity-60" />
          <span className="sr-only">{say("search.label")}</span>
          <input type="search" name="q" placeholder={say("search.label")} maxLength={200} />
        </label>
        {tables && <input type="hidden" name="in" value={open.map((t) => t.slug).join(" ")} />}
        <button type="submit" className="btn">
          {say("search.go")}
        </button>
      </form>
    </search>
  );
}
