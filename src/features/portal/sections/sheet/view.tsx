/** The page's record: its name, what can be done with it, and its fields. */
import { Pencil } from "lucide-react";
import type { Definition } from "@/core/definition/definition";
import type { SectionOf } from "@/core/pages/page";
import type { SeenRecord } from "@/core/schema/seen";
import { type Field, kindOf } from "@/core/schema/types";
import { dialIn } from "@/core/text/telephone";
import { formFields } from "@/data/records/form";
import { etagOf } from "@/data/records/write/write";
import { FieldValue } from "@/ui/field-value";
import { LOOKS } from "@/ui/forms/fields";
import { Link } from "@/ui/link";
import { listHref, recordHref } from "../../pages-for";
import { columns, localeOf, sayOf } from "../../queries";
import { actingAs } from "../../records/forms";
import { aloneAt, isLocked, lockOf } from "../../records/locked";
import { refusalsOn } from "../../refusal";
import { Refusals } from "../../ui/refusals";
import { type At, headingId, type SectionProps } from "../at";
import { BesideRecord, besideNeeded } from "../list/beside";
import { AcceptedPart } from "./accepted";
import { InPlace } from "./in-place";
import { ReadMark } from "./read-mark";
import { RemoveButton } from "./remove-button";

interface Shown {
  readonly field: Field;
  readonly name: string;
  readonly group: string | null;
}

/** Whether some list of the table tells what was read. */
const keepsReads = (d: Definition, table: string): boolean =>
  d.sections.some((s) => (s.kind === "list" || s.kind === "related") && s.config.source.table === table && s.config.reads === true);

export function SheetSection({ at, section }: SectionProps<SectionOf<"sheet">>) {
  const { r, about } = at;
  if (!about) return null;
  const { table, record } = about;
  const { config } = section;
  const say = sayOf(r);
  const shown = fieldsOf(at, section, record).filter((x) => config.empty === "shown" || !isBlank(record.fields[x.field.id]));
  const lock = lockOf(r, table);
  const alone = lock && aloneAt(r, table);
  const acts = besideNeeded(r, table, config, [record]);
  const changeable = config.changes || config.inPlace ? r.desk.changeable(table, record.id).filter((f) => f.id in record.fields) : [];
  const list = listHref(r, table.id);
  const removes = config.removes && r.desk.whereMay(table, "remove", [record.id]).size > 0;
  return (
    <>
      {at.head && (
        <>
          {list && (
            <nav aria-label={say("sheet.where")} className="-mb-2 text-sm">
              <Link className="link-plain" href={list}>
                {table.name}
              </Link>
            </nav>
          )}
          {at.note && (
            <div role="status" className="alert alert-success alert-soft">
              {at.note}
            </div>
          )}
        </>
      )}
      <div className="flex flex-wrap items-center justify-between gap-3">
        {at.head ? <h1>{r.desk.label(table, record)}</h1> : <h2 id={headingId(section)}>{section.title || table.singular}</h2>}
        <span className="flex flex-wrap items-center gap-2">
          {acts.length > 0 && <BesideRecord at={at} acts={acts} record={record} table={table} large />}
          {config.changes && changeable.length > 0 && (
            <Link className="btn btn-sm" href={`${r.base}/${table.slug}/${record.id}/change`}>
              <Pencil size={14} aria-hidden /> {say("sheet.change")}
            </Link>
          )}
          {removes && (
            <RemoveButton
              table={table.id}
              record={record.id}
              name={r.desk.label(table, record)}
              acting={actingAs(r)}
              seen={etagOf(record)}
              closed={r.seeAs !== null}
            />
          )}
        </span>
      </div>
      {r.session && keepsReads(r.published.definition, table.id) && (
        <div className="-mt-2 text-right">
          <ReadMark table={table.id} record={record.id} words={{ read: say("read.mark-unread"), unread: say("read.mark-read") }} />
        </div>
      )}
      <Fields at={at} section={section} shown={shown} record={record} changeable={config.inPlace ? changeable : []} />
      {isLocked(lock, record) && (
        <p className="sheet border-l-4 px-4 py-3" style={{ borderLeftColor: "var(--brand)" }}>
          {say("locked.more", { plans: lock.plans })}{" "}
          <Link className="link-plain font-semibold" href={`${r.base}/plans`}>
            {say("plans.see")}
          </Link>
          {alone && (
            <>
              {" "}
              <Link className="link-plain font-semibold" href={alone.href(record.id)}>
                {say("locked.alone", { price: alone.price })}
              </Link>
            </>
          )}
        </p>
      )}
      <AcceptedPart r={r} table={table} record={record} acts={config.acts} />
      {at.head && <Refusals say={say} of={refusalsOn(r, table, record.id)} thing={table.singular.toLowerCase()} />}
    </>
  );
}

function fieldsOf(at: At, section: SectionOf<"sheet">, record: SeenRecord): Shown[] {
  const { table } = at.about!;
  const known = columns(at.r, table).filter((f) => f.id in record.fields);
  const picked = section.config.fields;
  if (!picked) return known.filter((f) => f.id !== table.labelFieldId).map((field) => ({ field, name: field.name, group: null }));
  return picked.flatMap(({ field, name, group }) => {
    const f = known.find((x) => x.id === field);
    return f ? [{ field: f, name: name || f.name, group: group ?? null }] : [];
  });
}

const GRID = { 1: "", 2: "md:grid-cols-2", 3: "md:grid-cols-2 lg:grid-cols-3" } as const;

interface FieldsProps {
  at: At;
  section: SectionOf<"sheet">;
  shown: Shown[];
  record: SeenRecord;
  changeable: readonly Field[];
}

/** Fields up to the next that begins a group, each under its group's name. */
function Fields(props: FieldsProps) {
  const groups: { name: string | null; fields: Shown[] }[] = [];
  for (const x of props.shown) {
    const last = groups.at(-1);
    if (!last || x.group !== null) groups.push({ name: x.group, fields: [x] });
    else last.fields.push(x);
  }
  return (
    <div className="sheet overflow-hidden empty:hidden">
      {groups.map((g) => (
        <div key={g.fields[0]!.field.id}>
          {g.name && <h3 className="title border-b border-base-300/60 bg-base-200/50 px-5 py-2 text-base font-semibold">{g.name}</h3>}
          <Group {...props} shown={g.fields} />
        </div>
      ))}
    </div>
  );
}

function Group({ shown, ...props }: FieldsProps) {
  const { columns: n, labels } = props.section.config;
  const beside = labels === "beside";
  const lines = n === 1 && beside;
  return (
    <dl className={`-mb-px grid ${lines ? "sm:grid-cols-[minmax(9rem,14rem)_1fr]" : GRID[n as 1 | 2 | 3]}`}>
      {shown.map((x) => (
        <div
          key={x.field.id}
          className={
            lines ? "contents" : `border-b border-base-300/60 px-5 py-3 ${beside ? "grid grid-cols-[minmax(6rem,35%)_1fr] gap-3" : ""}`
          }
        >
          <dt className={lines ? "quiet border-base-300/60 px-5 pt-3 sm:border-b sm:py-3" : "quiet text-sm"}>{x.name}</dt>
          <dd className={lines ? "border-b border-base-300/60 px-5 pb-3 sm:py-3" : "min-w-0"}>
            <OneValue {...props} shown={x} />
          </dd>
        </div>
      ))}
    </dl>
  );
}

function OneValue({ at: { r, about }, record, changeable, shown: { field: f, name } }: Omit<FieldsProps, "shown"> & { shown: Shown }) {
  const say = sayOf(r);
  const locale = localeOf(r);
  const value = record.fields[f.id];
  const said = isBlank(value) ? (
    <span className="quiet">{say("sheet.empty")}</span>
  ) : (
    <FieldValue field={f} value={value} locale={locale} href={recordHref(r)} filesAt={r.base} dial={dialIn(locale.locale)} />
  );
  if (!changeable.includes(f) || kindOf(f).many !== null || LOOKS[f.type].edit === "files") return said;
  return (
    <InPlace
      field={formFields(r.desk, [f], record)[0]!}
      table={about!.table.id}
      record={record.id}
      acting={actingAs(r)}
      seen={etagOf(record)}
      closed={r.seeAs !== null}
      label={say("place.change", { field: name })}
    >
      {said}
    </InPlace>
  );
}

const isBlank = (v: unknown): boolean => v === null || v === undefined || v === "" || (Array.isArray(v) && v.length === 0);
