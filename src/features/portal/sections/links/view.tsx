/** Buttons to pages, forms and addresses. A button whose target this reader may not open is left out. */

import { ArrowUpRight } from "lucide-react";
import { fits } from "@/core/pages/audience";
import type { SectionOf } from "@/core/pages/page";
import { isRelation } from "@/core/schema/fields/natures";
import { kindOf } from "@/core/schema/types";
import type { LinkTarget } from "@/core/sections/links";
import { addressFrom } from "@/core/text/template";
import { Link } from "@/ui/link";
import { allPagesFor, readerFor } from "../../pages-for";
import { localeOf } from "../../queries";
import { type At, headingId, type SectionProps } from "../at";

export function LinksSection({ at, section }: SectionProps<SectionOf<"links">>) {
  const { look, items } = section.config;
  const shown = items.flatMap((x) => {
    const to = leadsTo(at, x.target);
    return to ? [{ ...x, to, outside: x.target.to === "address" }] : [];
  });
  if (shown.length === 0) return null;
  const outside = { target: "_blank", rel: "noopener noreferrer" };
  return (
    <>
      {section.title && (at.head ? <h1 id={headingId(section)}>{section.title}</h1> : <h2 id={headingId(section)}>{section.title}</h2>)}
      {look === "buttons" ? (
        <ul className="flex flex-wrap gap-3">
          {shown.map((x, i) => (
            <li key={x.id}>
              <Link className={`btn ${i === 0 ? "btn-primary" : ""}`} href={x.to} {...(x.outside ? outside : {})}>
                {x.name} {x.outside && <ArrowUpRight size={15} aria-hidden />}
              </Link>
            </li>
          ))}
        </ul>
      ) : (
        <ul className="grid gap-4 sm:grid-cols-2 lg:grid-cols-3">
          {shown.map((x) => (
            <li key={x.id}>
              <Link className="sheet flex h-full flex-col gap-1 p-4 hover:border-primary" href={x.to} {...(x.outside ? outside : {})}>
                <span className="title font-semibold text-primary">{x.name}</span>
                {x.about && <span className="quiet text-sm">{x.about}</span>}
              </Link>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

function leadsTo({ r, about }: At, target: LinkTarget): string | null {
  switch (target.to) {
    case "page": {
      const page = allPagesFor(r).page(target.page);
      if (!page || !fits(page.audience, readerFor(r))) return null;
      if (page.about === null) return `${r.base}/${page.address}`;
      return page.about === about?.table.id ? `${r.base}/${page.address}/${about.record.id}` : null;
    }
    case "form": {
      const table = r.desk.schema.findTable(target.table);
      if (!table || !r.desk.may(table, "add")) return null;
      const pointing = about && r.desk.settable(table, "add").find((f) => isRelation(f) && f.options.target === about.table.id);
      return `${r.base}/${table.slug}/new${pointing ? `?${pointing.slug}=${about.record.id}` : ""}`;
    }
    case "address":
      return addressFrom(target.address, (field) => {
        const f = about?.table.fields.find((x) => x.id === field);
        const v = f && about!.record.fields[field];
        return f && v !== null && v !== undefined && typeof v !== "object" ? kindOf(f).words(v, f, localeOf(r)) : "";
      });
  }
}
