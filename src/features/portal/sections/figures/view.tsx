/** Figures, each leading to its records. */

import { addMonths } from "@/core/pages/calendar";
import type { SectionOf } from "@/core/pages/page";
import type { Condition } from "@/core/schema/condition";
import { isDay } from "@/core/schema/fields/natures";
import type { Field, Table } from "@/core/schema/types";
import type { FiguresConfig } from "@/core/sections/figures";
import { dateIn } from "@/core/time/relative";
import { startOfDay } from "@/core/time/zoned";
import { measured, measuredOf } from "@/data/records/counting/measure";
import type { PortalRequest } from "@/identity/requests/request";
import { Link } from "@/ui/link";
import { listHref } from "../../pages-for";
import { localeOf, sayOf } from "../../queries";
import { headingId, type SectionProps } from "../at";
import { together } from "../list/load";
import { measuredWords } from "./words";

type Item = FiguresConfig["items"][number];

export function FiguresSection({ at, section }: SectionProps<SectionOf<"figures">>) {
  const { r } = at;
  const shown = section.config.items.flatMap((item) => {
    const table = r.desk.schema.table(item.source.table);
    const of = item.of === null ? null : table.fields.find((f) => f.id === item.of);
    const open = r.desk.may(table, "see") && (item.measure === "count" || (of && r.desk.knows(table, of)));
    return open ? [{ item, table, of: of ?? null }] : [];
  });
  if (shown.length === 0) return null;
  const values = measuredOf(
    r.desk,
    shown.map(({ item, table }) => ({
      table: table.id,
      q: { condition: item.source.filter },
      m: { measure: item.measure, of: item.of },
    })),
  );
  return (
    <>
      {section.title && <h2 id={headingId(section)}>{section.title}</h2>}
      <ul className="grid grid-cols-[repeat(auto-fit,minmax(9.5rem,1fr))] gap-4">
        {shown.map((x, i) => (
          <Figure key={x.item.id} r={r} section={section.id} value={values[i] ?? null} {...x} />
        ))}
      </ul>
    </>
  );
}

interface FigureProps {
  r: PortalRequest;
  section: string;
  item: Item;
  table: Table;
  of: Field | null;
  value: number | null;
}

function Figure({ r, section, item, table, of, value }: FigureProps) {
  const say = sayOf(r);
  const list = listHref(r, table.id);
  const href = list && (item.source.filter ? `${list}?only=${section}~${item.id}` : list);
  const words = measuredWords(item.measure, of, value, localeOf(r));
  const months = item.monthly ? monthsOf(r, table, item) : null;
  const inside = (
    <>
      <span className="quiet block text-sm">{item.name}</span>
      <span className="title block text-2xl font-semibold tabular-nums">{words}</span>
      {months && (
        <span className="quiet block text-sm">
          {say("figures.month", {
            now: measuredWords(item.measure, of, months.now, localeOf(r)),
            before: measuredWords(item.measure, of, months.before, localeOf(r)),
          })}
        </span>
      )}
    </>
  );
  return (
    <li className="sheet min-w-0 px-4 py-3">
      {href ? (
        <Link href={href} className="block hover:[&>.title]:underline">
          {inside}
        </Link>
      ) : (
        inside
      )}
    </li>
  );
}

/** This month so far beside the whole of the one before, in the portal's zone. */
function monthsOf(r: PortalRequest, table: Table, item: Item): { now: number | null; before: number | null } | null {
  const field = table.fields.find((f) => f.id === item.monthly);
  if (!field || !r.desk.knows(table, field)) return null;
  const { timeZone } = localeOf(r);
  const month = dateIn(r.desk.now, timeZone).slice(0, 7);
  const day = (m: string): string => (isDay(field) ? `${m}-01` : startOfDay(`${m}-01`, timeZone));
  const between = (from: string, until: string): Condition => ({
    kind: "all",
    of: [
      { kind: "test", path: [field.id], operator: "at-least", operands: [{ kind: "literal", value: day(from) }] },
      { kind: "test", path: [field.id], operator: "less-than", operands: [{ kind: "literal", value: day(until) }] },
    ],
  });
  const of = (from: string): number | null =>
    measured(
      r.desk,
      table.id,
      { condition: together([item.source.filter, between(from, addMonths(from, 1))]) },
      { measure: item.measure, of: item.of },
    );
  return { now: of(month), before: of(addMonths(month, -1)) };
}
