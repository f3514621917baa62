/** As a table, which stacks where there is little room. */

import { recordHref } from "../../pages-for";
import { localeOf, sayOf } from "../../queries";
import { actingAs } from "../../records/forms";
import { sortText } from "./address";
import { BesideRecord, besideNeeded } from "./beside";
import { ListTable } from "./list-table";
import { type LookProps, Pages } from "./look";
import { opensTo } from "./opens";
import { Several } from "./several";

export function Rows({ at, section, table, settings, v, address, through }: LookProps) {
  const { r } = at;
  const columns = through ? v.columns.filter((c) => c.field.id !== through.field.id).slice(0, settings.columns ? 60 : 4) : v.columns;
  const acts = besideNeeded(r, table, settings, v.records);
  const choosable = new Set(acts.flatMap((a) => [...a.on]));
  const form = choosable.size > 1 && !through ? `several-${section.id}` : null;
  const say = sayOf(r);
  return (
    <section className="sheet overflow-hidden" aria-label={section.title || table.name}>
      {form && (
        <Several
          form={form}
          label={say("several.title")}
          acting={actingAs(r)}
          acts={acts.map(({ act }) => ({ id: act.id, name: act.name }))}
          closed={r.seeAs !== null}
        />
      )}
      <ListTable
        {...(form ? { choosing: { form, ids: choosable } } : {})}
        table={table}
        columns={columns}
        records={v.records}
        locale={localeOf(r)}
        base={r.base}
        sort={v.sort}
        {...(through ? {} : { sortHref: (f, descending) => address.to({ sort: sortText(f, descending), page: null }) })}
        href={recordHref(r)}
        rowHref={opensTo(r, table, settings)}
        sums={new Map(v.sums.map((s) => [s.field.id, s.sum]))}
        {...(acts.length > 0 ? { beside: (x) => <BesideRecord at={at} acts={acts} record={x} table={table} quietly /> } : {})}
      />
      {(!through || settings.search) && <Pages at={at} v={v} address={address} />}
    </section>
  );
}
