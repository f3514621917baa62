/** By a choice: a column each, cards in them. Cards move where changing the choice is granted. */

import { choosesOne } from "@/core/schema/fields/natures";
import { grouped } from "@/data/records/counting/measure";
import { etagOf } from "@/data/records/write/write";
import { Empty } from "@/ui/empty";
import { FieldValue } from "@/ui/field-value";
import { Link } from "@/ui/link";
import { recordHref } from "../../pages-for";
import { localeOf, sayOf } from "../../queries";
import { actingAs } from "../../records/forms";
import { below } from "../at";
import { BoardLater } from "./board-later";
import { byField } from "./load";
import type { LookProps } from "./look";
import { opensTo } from "./opens";

/** As many cards are on a board; of a column with more, how many it has. */
const MOST = 300;

export function Board({ at, section, table, settings, v }: LookProps) {
  const { r } = at;
  const say = sayOf(r);
  const locale = localeOf(r);
  const by = byField(r, table, settings.by, (f) => choosesOne(f));
  if (!by) return <Empty title={say("board.none")} />;
  const query = { condition: v.condition, search: v.search };
  const counts = new Map(
    grouped(r.desk, table.id, query, { field: by.id, step: "plain" }, { measure: "count", of: null }).map((g) => [g.key, g.n]),
  );
  const { records } = r.desk.list(table, { ...query, ...(v.sort ? { sort: [v.sort] } : {}), limit: MOST });
  const movable = r.desk.settable(table, "change").some((f) => f.id === by.id)
    ? r.desk.whereMay(
        table,
        "change",
        records.map((x) => x.id),
        by.id,
      )
    : new Set<string>();
  const to = opensTo(r, table, settings);
  const href = recordHref(r);
  const shown = v.columns.filter((c) => c.field.id !== table.labelFieldId && c.field.id !== by.id).slice(0, settings.columns ? 6 : 2);
  const choices = [
    ...(by.options.choices ?? []),
    ...((counts.get(null) ?? 0) > 0 ? [{ id: "", name: say("board.without", { field: by.name }) }] : []),
  ];
  return (
    <BoardLater
      label={section.title || table.name}
      level={below(at)}
      table={table.id}
      field={by.id}
      acting={actingAs(r)}
      closed={r.seeAs !== null}
      columns={choices.map((c) => {
        const here = records.filter((x) => (x.fields[by.id] ?? "") === c.id);
        const n = counts.get(c.id || null) ?? 0;
        return {
          id: c.id,
          name: c.name,
          tone: "tone" in c && c.tone ? c.tone : null,
          count: new Intl.NumberFormat(locale.locale).format(n),
          more: n > here.length ? say("board.more", { n: n - here.length }) : null,
          cards: here.map((x) => ({
            id: x.id,
            name: r.desk.label(table, x),
            movable: movable.has(x.id),
            seen: etagOf(x),
            shown: (
              <>
                {to(x.id) ? (
                  <Link className="link-plain font-medium" href={to(x.id)!}>
                    {r.desk.label(table, x)}
                  </Link>
                ) : (
                  <span className="font-medium">{r.desk.label(table, x)}</span>
                )}
                <span className="flex flex-wrap gap-x-3 text-sm">
                  {shown.map(({ field, name }) =>
                    x.fields[field.id] === null || x.fields[field.id] === undefined ? null : (
                      <span key={field.id} title={name}>
                        <FieldValue field={field} value={x.fields[field.id]} locale={locale} href={href} filesAt={r.base} plain />
                      </span>
                    ),
                  )}
                </span>
              </>
            ),
          })),
        };
      })}
    />
  );
}
