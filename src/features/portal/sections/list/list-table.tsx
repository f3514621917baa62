/** The rows of a list. The first column names the record and leads to its sheet. */

import { ArrowDown, ArrowUp } from "lucide-react";
import type { ReactNode } from "react";
import type { Locale } from "@/core/schema/fields/kind";
import { isLongText } from "@/core/schema/fields/natures";
import type { SeenRecord } from "@/core/schema/seen";
import { type Field, kindOf, type Table } from "@/core/schema/types";
import { type Say, sayIn } from "@/core/words/words";
import type { Sort } from "@/data/records/query/order";
import { FieldValue } from "@/ui/field-value";
import { Link } from "@/ui/link";
import type { Column } from "./load";

interface Props {
  table: Table;
  columns: readonly Column[];
  records: readonly SeenRecord[];
  locale: Locale;
  base: string;
  sort?: Sort | null;
  /** The address with another sort; absent where the list does not sort. */
  sortHref?: (field: Field, descending: boolean) => string;
  href: (tableId: string, id: string) => string | undefined;
  /** Where a row leads; to the record's own page where nothing is said, and nowhere for null. */
  rowHref?: (id: string) => string | null | undefined;
  /** Sums over the whole list, by field id. */
  sums?: ReadonlyMap<string, number>;
  /** Buttons beside a record. */
  beside?: (record: SeenRecord) => ReactNode;
  /** Records that can be ticked, for the form of that id. */
  choosing?: { readonly form: string; readonly ids: ReadonlySet<string> };
}

/** Records as a table that can be sorted, with sums where they are asked for. */
export function ListTable({ table, columns, records, locale, base, sort, sortHref, href, rowHref, sums, beside, choosing }: Props) {
  const shown = columns.filter((c) => !isLongText(c.field));
  const say = sayIn(locale.locale);
  const leads = (id: string): string | null | undefined => (rowHref ? rowHref(id) : href(table.id, id));
  const naming = shown.some((c) => c.field.id === table.labelFieldId) ? table.labelFieldId : shown[0]?.field.id;
  return (
    <div className="overflow-x-auto">
      <table className="grid-table stacks">
        <ListHead choosing={choosing} say={say} shown={shown} sort={sort} sortHref={sortHref} beside={beside} />
        <tbody>
          {records.map((x) => {
            const to = leads(x.id);
            return (
              <tr key={x.id}>
                {choosing && <ChooseCell choosing={choosing} x={x} say={say} table={table} />}
                {shown.map(({ field: f, name }) => {
                  const named = f.id === naming;
                  const value = x.fields[f.id];
                  return (
                    <td
                      key={f.id}
                      data-label={name}
                      className={`${kindOf(f).numeric ? "num" : ""} ${isBlank(value) && f.id !== table.labelFieldId ? "blank" : ""}`}
                    >
                      {named && to ? (
                        <Link className="link-plain font-medium" href={to}>
                          {value ? (
                            <FieldValue field={f} value={value} locale={locale} plain />
                          ) : (
                            say("sheet.unnamed", { thing: table.singular })
                          )}
                        </Link>
                      ) : (
                        <FieldValue field={f} value={value} locale={locale} href={href} plain filesAt={base} />
                      )}
                    </td>
                  );
                })}
                {beside && <td className="beside">{beside(x)}</td>}
              </tr>
            );
          })}
        </tbody>
        {sums && sums.size > 0 && (
          <tfoot>
            <tr>
              {choosing && <td className="blank" />}
              {shown.map(({ field: f, name }, i) => (
                <td
                  key={f.id}
                  data-label={name}
                  className={`font-semibold ${kindOf(f).numeric ? "num" : ""} ${sums.has(f.id) || i === 0 ? "" : "blank"}`}
                >
                  {sums.has(f.id) ? (
                    <FieldValue field={f} value={sums.get(f.id)!} locale={locale} plain />
                  ) : i === 0 ? (
                    say("list.sum")
                  ) : null}
                </td>
              ))}
              {beside && <td className="blank" />}
            </tr>
          </tfoot>
        )}
      </table>
    </div>
  );
}

const nameOf = (table: Table, x: SeenRecord): string => String(x.fields[table.labelFieldId] ?? table.singular);
const isBlank = (v: unknown): boolean => v === null || v === undefined || v === "" || (Array.isArray(v) && v.length === 0);

interface ListHeadProps {
  readonly choosing: { readonly form: string; readonly ids: ReadonlySet<string> } | undefined;
  readonly say: Say;
  readonly shown: Column[];
  readonly sort: Sort | null | undefined;
  readonly sortHref: ((field: Field, descending: boolean) => string) | undefined;
  readonly beside: ((record: SeenRecord) => ReactNode) | undefined;
}

/** Names of the columns, which sort. */
function ListHead({ choosing, say, shown, sort, sortHref, beside }: ListHeadProps) {
  return (
    <thead>
      <tr>
        {choosing && (
          <th scope="col" className="w-8">
            <span className="sr-only">{say("list.choosing")}</span>
          </th>
        )}
        {shown.map(({ field: f, name }) => (
          <th
            key={f.id}
            scope="col"
            className={kindOf(f).numeric ? "num" : ""}
            aria-sort={sort?.field === f.id ? (sort.descending ? "descending" : "ascending") : undefined}
          >
            {sortHref && kindOf(f).sortable ? (
              <Link href={sortHref(f, sort?.field === f.id && !sort.descending)} className="inline-flex items-center gap-1 hover:underline">
                {name}
                {sort?.field === f.id && (sort.descending ? <ArrowDown size={13} aria-hidden /> : <ArrowUp size={13} aria-hidden />)}
              </Link>
            ) : (
              name
            )}
          </th>
        ))}
        {beside && (
          <th scope="col">
            <span className="sr-only">{say("list.doing")}</span>
          </th>
        )}
      </tr>
    </thead>
  );
}

interface ChooseCellProps {
  readonly choosing: { form: string; ids: ReadonlySet<string> };
  readonly x: SeenRecord;
  readonly say: Say;
  readonly table: Table;
}

/** The box by which a record is chosen, where there is something to do with it. */
function ChooseCell({ choosing, x, say, table }: ChooseCellProps) {
  return (
    <td className={choosing.ids.has(x.id) ? "choose" : "choose blank"}>
      {choosing.ids.has(x.id) && (
        <input
          type="checkbox"
          name="record"
          value={x.id}
          form={choosing.form}
          className="checkbox checkbox-sm align-middle"
          aria-label={say("several.choose", { name: nameOf(table, x) })}
        />
      )}
    </td>
  );
}
