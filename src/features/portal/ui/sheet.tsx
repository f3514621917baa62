/** The record sheet: every visible field, then the records of other lists that point here. */
import { Pencil } from "lucide-react";
import type { SeenRecord } from "@/core/records";
import type { Table } from "@/core/schema/types";
import { dialIn } from "@/core/text/telephone";
import type { PortalRequest } from "@/identity/request";
import { FieldValue } from "@/ui/field-value";
import { Link } from "@/ui/link";
import { columns, localeOf, relatedLists, sayOf } from "../queries";
import { refusalsOn } from "../refusal";
import { recordHref } from "./list";
import { ListTable } from "./list-table";
import { Refusals } from "./refusals";

export function Sheet({
  r,
  table,
  record,
  note,
  changeable,
}: {
  r: PortalRequest;
  table: Table;
  record: SeenRecord;
  note: string | null;
  changeable: boolean;
}) {
  const locale = localeOf(r);
  const say = sayOf(r);
  const href = recordHref(r);
  const fields = columns(r, table).filter((f) => f.id in record.fields && f.id !== table.labelFieldId);
  const related = relatedLists(r, table, record.id);
  return (
    <article className="grid gap-6 [&>*]:min-w-0">
      <nav aria-label={say("sheet.where")} className="text-sm">
        <Link className="link-plain" href={`${r.base}/${table.slug}`}>
          {table.name}
        </Link>
      </nav>
      {note && (
        <div role="status" className="alert alert-success alert-soft">
          {note}
        </div>
      )}
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h1>{r.desk.label(table, record)}</h1>
        {changeable && (
          <Link className="btn btn-sm" href={`${r.base}/${table.slug}/${record.id}/change`}>
            <Pencil size={14} aria-hidden /> {say("sheet.change")}
          </Link>
        )}
      </div>
      <dl className="sheet grid sm:grid-cols-[minmax(9rem,14rem)_1fr]">
        {fields.map((f) => (
          <div key={f.id} className="contents">
            <dt className="quiet border-base-300/60 px-5 pt-3 sm:border-b sm:py-3">{f.name}</dt>
            <dd className="border-b border-base-300/60 px-5 pb-3 sm:py-3">
              {isBlank(record.fields[f.id]) ? (
                <span className="quiet">{say("sheet.empty")}</span>
              ) : (
                <FieldValue
                  field={f}
                  value={record.fields[f.id]}
                  locale={locale}
                  href={href}
                  filesAt={r.base}
                  dial={dialIn(locale.locale)}
                />
              )}
            </dd>
          </div>
        ))}
      </dl>
      <Refusals say={say} of={refusalsOn(r, table, record.id)} thing={table.singular.toLowerCase()} />
      {related.map((l) => (
        <section key={l.field.id} aria-labelledby={`r-${l.field.id}`} className="grid gap-2">
          <div className="flex items-baseline justify-between gap-3">
            <h2 id={`r-${l.field.id}`}>{l.table.name}</h2>
            {l.total > 0 && (
              <Link className="link-plain tabular-nums" href={`${r.base}/${l.table.slug}?of=${l.field.slug}:${record.id}`}>
                {say("sheet.all", { total: l.total })}
              </Link>
            )}
          </div>
          <div className="sheet overflow-hidden">
            {l.total === 0 ? (
              <p className="quiet px-4 py-3">{say("sheet.none")}</p>
            ) : (
              <ListTable table={l.table} columns={l.columns} records={l.records} locale={locale} base={r.base} href={href} />
            )}
          </div>
        </section>
      ))}
    </article>
  );
}

const isBlank = (v: unknown): boolean => v === null || v === undefined || v === "" || (Array.isArray(v) && v.length === 0);
