/** The rows of a list. The first column names the record and leads to its sheet. */

import { ArrowDown, ArrowUp } from "lucide-react";
import type { SeenRecord } from "@/core/records";
import type { Locale } from "@/core/schema/fields/kind";
import { type Field, kindOf, type Table } from "@/core/schema/types";
import { sayIn } from "@/core/words/words";
import type { Sort } from "@/data/records/query/order";
import { FieldValue } from "@/ui/field-value";
import { Link } from "@/ui/link";

interface Props {
  table: Table;
  columns: Field[];
  records: readonly SeenRecord[];
  locale: Locale;
  base: string;
  sort?: Sort | null;
  /** The address with another sort; absent where the list does not sort. */
  sortHref?: (field: Field, descending: boolean) => string;
  href: (tableId: string, id: string) => string | undefined;
}

export function ListTable({ table, columns, records, locale, base, sort, sortHref, href }: Props) {
  const shown = columns.filter((f) => f.type !== "long-text");
  return (
    <div className="overflow-x-auto">
      <table className="grid-table stacks">
        <thead>
          <tr>
            {shown.map((f) => (
              <th
                key={f.id}
                scope="col"
                className={kindOf(f).numeric ? "num" : ""}
                aria-sort={sort?.field === f.id ? (sort.descending ? "descending" : "ascending") : undefined}
              >
                {sortHref && kindOf(f).sortable ? (
                  <Link
                    href={sortHref(f, sort?.field === f.id && !sort.descending)}
                    className="inline-flex items-center gap-1 hover:underline"
                  >
                    {f.name}
                    {sort?.field === f.id && (sort.descending ? <ArrowDown size={13} aria-hidden /> : <ArrowUp size={13} aria-hidden />)}
                  </Link>
                ) : (
                  f.name
                )}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {records.map((x) => (
            <tr key={x.id}>
              {shown.map((f, i) => (
                <td
                  key={f.id}
                  data-label={f.name}
                  className={`${kindOf(f).numeric ? "num" : ""} ${isBlank(x.fields[f.id]) && f.id !== table.labelFieldId ? "blank" : ""}`}
                >
                  {f.id === table.labelFieldId || (i === 0 && !(table.labelFieldId in x.fields)) ? (
                    <Link className="link-plain font-medium" href={`${base}/${table.slug}/${x.id}`}>
                      {x.fields[f.id] ? (
                        <FieldValue field={f} value={x.fields[f.id]} locale={locale} plain />
                      ) : (
                        sayIn(locale.locale)("sheet.unnamed", { thing: table.singular })
                      )}
                    </Link>
                  ) : (
                    <FieldValue field={f} value={x.fields[f.id]} locale={locale} href={href} plain filesAt={base} />
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

const isBlank = (v: unknown): boolean => v === null || v === undefined || v === "" || (Array.isArray(v) && v.length === 0);
