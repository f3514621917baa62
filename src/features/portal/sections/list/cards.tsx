/** As cards: the name, and the fields that were picked below it. */
import { readBy } from "@/data/views/reads";
import { FieldValue } from "@/ui/field-value";
import { Link } from "@/ui/link";
import { recordHref } from "../../pages-for";
import { localeOf, sayOf } from "../../queries";
import { aloneAt, isLocked, lockOf } from "../../records/locked";
import { LockedNote } from "../../ui/locked-note";
import { below } from "../at";
import { BesideRecord, besideNeeded } from "./beside";
import { type LookProps, Pages } from "./look";
import { opensTo } from "./opens";

export function Cards({ at, section, table, settings, v, address }: LookProps) {
  const { r } = at;
  const locale = localeOf(r);
  const Level = below(at);
  const href = recordHref(r);
  const to = opensTo(r, table, settings);
  const lock = lockOf(r, table);
  const alone = lock && aloneAt(r, table);
  const acts = besideNeeded(r, table, settings, v.records);
  const say = sayOf(r);
  const read = settings.reads
    ? readBy(
        r.file,
        r.viewer,
        v.records.map((x) => x.id),
      )
    : new Set<string>();
  const shown = v.columns.filter((c) => c.field.id !== table.labelFieldId).slice(0, settings.columns ? 12 : 4);
  return (
    <section aria-label={section.title || table.name}>
      <ul className="grid gap-4 sm:grid-cols-2 lg:grid-cols-3">
        {v.records.map((x) => {
          const at_ = to(x.id);
          return (
            <li key={x.id} className="sheet flex flex-col gap-3 p-4">
              <Level className="text-base font-semibold">
                {at_ ? (
                  <Link className="link-plain" href={at_}>
                    {r.desk.label(table, x)}
                  </Link>
                ) : (
                  r.desk.label(table, x)
                )}
                {read.has(x.id) && <span className="tag ml-2 align-middle">{say("read.read")}</span>}
              </Level>
              <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1 text-sm">
                {shown.map(({ field, name }) =>
                  x.fields[field.id] === null || x.fields[field.id] === undefined ? null : (
                    <div key={field.id} className="contents">
                      <dt className="quiet">{name}</dt>
                      <dd className="min-w-0 truncate">
                        <FieldValue field={field} value={x.fields[field.id]} locale={locale} href={href} filesAt={r.base} plain />
                      </dd>
                    </div>
                  ),
                )}
              </dl>
              {isLocked(lock, x) && (
                <p className="mt-auto">
                  <LockedNote r={r} lock={lock} alone={alone} record={{ id: x.id, name: r.desk.label(table, x) }} />
                </p>
              )}
              {acts.length > 0 && (
                <div className="mt-auto">
                  <BesideRecord at={at} acts={acts} record={x} table={table} />
                </div>
              )}
            </li>
          );
        })}
      </ul>
      <Pages at={at} v={v} address={address} loose />
    </section>
  );
}
