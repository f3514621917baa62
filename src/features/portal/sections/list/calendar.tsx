/** By a date: a month, a week, or one day after the other. Narrow screens have the days one after the other. */

import { addMonths, firstOfWeek, isMonth, isoWeek, monthGrid, weekOf } from "@/core/pages/calendar";
import type { Condition } from "@/core/schema/condition";
import { isDated, isDay } from "@/core/schema/fields/natures";
import type { SeenRecord } from "@/core/schema/seen";
import type { Field } from "@/core/schema/types";
import { addDays, dateIn, isCalendarDate } from "@/core/time/relative";
import { startOfDay, wallTime } from "@/core/time/zoned";
import { Empty } from "@/ui/empty";
import { localeOf, one, sayOf } from "../../queries";
import { actingAs } from "../../records/forms";
import { below } from "../at";
import { CalendarMoves } from "./calendar-moves";
import { CalendarBar, DaysInOrder, MOST, type Moving, WeekdayNames, Weeks } from "./calendar-parts";
import { byField, together } from "./load";
import type { LookProps } from "./look";

export function Calendar(props: LookProps) {
  const { at, table, settings, v, address } = props;
  const { r, key } = at;
  const say = sayOf(r);
  const { locale, timeZone } = localeOf(r);
  const Level = below(at);
  const by = byField(r, table, settings.by, (f) => isDated(f));
  if (!by) return <Empty title={say("calendar.none")} />;
  const today = dateIn(r.desk.now, timeZone);
  const asked = one(at.search[`${key}on`]);
  const view = one(at.search[`${key}view`]) === "week" ? "week" : one(at.search[`${key}view`]) === "agenda" ? "agenda" : "month";
  const day = isCalendarDate(asked) ? asked : isMonth(asked) ? `${asked}-01` : today;
  const month = day.slice(0, 7);
  const first = firstOfWeek(locale);
  const weeks = view === "week" ? [weekOf(day, first)] : monthGrid(month, first);
  const days = view === "agenda" ? weeks.flat().filter((d) => d.startsWith(month)) : weeks.flat();
  const { records } = r.desk.list(table, {
    condition: together([v.condition, within(by, days[0]!, days.at(-1)!, timeZone)]),
    search: v.search,
    sort: [{ field: by.id, descending: false }],
    limit: MOST + 1,
  });
  const on = new Map<string, SeenRecord[]>();
  for (const x of records.slice(0, MOST)) {
    const value = x.fields[by.id];
    if (typeof value !== "string") continue;
    const date = isDay(by) ? value : dateIn(Date.parse(value), timeZone);
    on.set(date, [...(on.get(date) ?? []), x]);
  }
  const named = (options: Intl.DateTimeFormatOptions, date: string): string =>
    new Intl.DateTimeFormat(locale, { timeZone: "UTC", ...options }).format(Date.parse(`${date}T12:00:00Z`));
  const step = (by_: -1 | 1): string => (view === "week" ? addDays(day, 7 * by_) : addMonths(month, by_));
  const title =
    view === "week"
      ? say("calendar.week", { week: isoWeek(days[3]!).week, month: named({ month: "long", year: "numeric" }, days[3]!) })
      : named({ month: "long", year: "numeric" }, `${month}-01`);
  const to = (change: Record<string, string | null>): string =>
    address.to({ on: view === "week" ? day : month, view: view === "month" ? null : view, ...change });
  const movable = r.desk.settable(table, "change").some((f) => f.id === by.id)
    ? r.desk.whereMay(
        table,
        "change",
        records.map((x) => x.id),
        by.id,
      )
    : new Set<string>();
  const moving: Moving = {
    may: r.seeAs ? new Set() : movable,
    // A moment keeps its time of day.
    after: (x) => (isDay(by) ? "" : `T${wallTime(String(x.fields[by.id]), timeZone).slice(11)}`),
  };
  return (
    <CalendarMoves
      label={title}
      locale={locale}
      table={table.id}
      field={by.id}
      acting={actingAs(r)}
      may={movable.size > 0 && r.seeAs === null}
    >
      <div className="flex flex-wrap items-center justify-between gap-3 border-b border-base-300 px-4 py-2.5">
        <Level className="title text-lg font-semibold" aria-live="polite">
          {title}
        </Level>
        <CalendarBar say={say} to={to} step={step} view={view} day={day} />
      </div>
      {records.length > MOST && <p className="border-b border-base-300 px-4 py-2 text-sm">{say("calendar.too-many", { most: MOST })}</p>}
      {view !== "agenda" && (
        <table className="w-full table-fixed border-collapse max-sm:hidden">
          <WeekdayNames weeks={weeks} named={named} />
          <Weeks weeks={weeks} month={month} view={view} today={today} props={props} on={on} moving={moving} to={to} />
        </table>
      )}
      <DaysInOrder view={view} days={days} on={on} today={today} named={named} props={props} moving={moving} records={records} say={say} />
    </CalendarMoves>
  );
}

/** Days of the portal's zone, both included. */
function within(by: Field, from: string, until: string, timeZone: string): Condition {
  const test = (operator: "at-least" | "at-most" | "less-than", value: string): Condition => ({
    kind: "test",
    path: [by.id],
    operator,
    operands: [{ kind: "literal", value }],
  });
  return isDay(by)
    ? { kind: "all", of: [test("at-least", from), test("at-most", until)] }
    : { kind: "all", of: [test("at-least", startOfDay(from, timeZone)), test("less-than", startOfDay(addDays(until, 1), timeZone))] };
}
