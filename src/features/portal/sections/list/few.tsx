/** The first few of a list, with how many there are: for a home page. */

import type { Section } from "@/core/pages/page";
import { isMoney, isNumber } from "@/core/schema/fields/natures";
import type { FieldType, Table } from "@/core/schema/types";
import type { Source } from "@/core/sections/kind";
import type { ListSettings } from "@/core/sections/list";
import { withArticle } from "@/core/text/article";
import { FieldValue } from "@/ui/field-value";
import { Link } from "@/ui/link";
import { listHref } from "../../pages-for";
import { localeOf, sayOf } from "../../queries";
import { type At, headingId } from "../at";
import { BesideRecord, besideNeeded } from "./beside";
import { fewOf } from "./load";
import type { Through } from "./look";
import { opensTo } from "./opens";

const WHOLE: ReadonlySet<FieldType> = new Set(["date", "money", "number", "percent", "choice", "yes-no"]);

interface Props {
  at: At;
  section: Section;
  table: Table;
  source: Source;
  settings: ListSettings;
  through: Through | null;
}

export function Few({ at, section, table, source, settings, through }: Props) {
  const { r } = at;
  const say = sayOf(r);
  const locale = localeOf(r);
  const { total, notes, newest } = fewOf(r, table, source, settings, through);
  const all = listHref(r, table.id);
  const to = opensTo(r, table, settings);
  const acts = besideNeeded(r, table, settings, newest);
  const title = section.title || table.name;
  // Days, amounts and choices are never cut off: the name gives way to them. Words give way to the name.
  const whole = notes.every((c) => WHOLE.has(c.field.type));
  const named = whole ? "min-w-0 truncate" : "max-w-[65%] shrink-0 truncate";
  return (
    <div className="sheet flex h-full flex-col overflow-hidden">
      <div className="flex items-baseline justify-between gap-3 border-b border-base-300 px-4 py-3">
        <h2 id={headingId(section)}>
          {all ? (
            <Link href={all} className="hover:underline">
              {title}
            </Link>
          ) : (
            title
          )}
        </h2>
        {all ? (
          <Link href={all} className="link-plain tabular-nums" aria-label={say("home.all", { total, things: title })}>
            {new Intl.NumberFormat(locale.locale).format(total)}
          </Link>
        ) : (
          <span className="tabular-nums">{new Intl.NumberFormat(locale.locale).format(total)}</span>
        )}
      </div>
      {newest.length === 0 ? (
        <p className="quiet px-4 py-4">{settings.empty || say("home.none-yet")}</p>
      ) : (
        <ul>
          {newest.map((x) => {
            const href = to(x.id);
            return (
              <li key={x.id} className="flex items-center justify-between gap-3 border-b border-base-300/60 px-4 py-2 last:border-0">
                {href ? (
                  <Link className={`link-plain ${named}`} href={href}>
                    {r.desk.label(table, x)}
                  </Link>
                ) : (
                  <span className={named}>{r.desk.label(table, x)}</span>
                )}
                <span className={`flex items-center gap-3 text-sm ${whole ? "shrink-0" : "min-w-0 truncate"}`}>
                  {notes.map((c) => (
                    <span key={c.field.id} className={isMoney(c.field) || isNumber(c.field) ? "tabular-nums" : "truncate"}>
                      <FieldValue field={c.field} value={x.fields[c.field.id]} locale={locale} filesAt={r.base} still />
                    </span>
                  ))}
                  {acts.length > 0 && <BesideRecord at={at} acts={acts} record={x} table={table} />}
                </span>
              </li>
            );
          })}
        </ul>
      )}
      {settings.adds && r.desk.may(table, "add") && (
        <div className="mt-auto border-t border-base-300/60 px-4 py-2.5">
          <Link className="link-plain font-medium" href={`${r.base}/${table.slug}/new`}>
            {say("list.add", { a_thing: withArticle(table.singular) })}
          </Link>
        </div>
      )}
    </div>
  );
}
