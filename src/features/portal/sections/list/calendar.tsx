/** By a date: a month, a week, or one day after the other. Narrow screens have the days one after the other. */

import { addMonths, firstOfWeek, isMonth, isoWeek, monthGrid, weekOf } from "@/core/pages/calendar";
import type { Condition } from "@/core/schema/condition";
import { isDated, isDay } from "@/core/schema/fields/natures";
import type { SeenRecord } from "@/core/schema/seen";
import type { Field } from "@/core/schema/types";
import { addDays, dateIn, isCalendarDate } from "@/core/time/relative";
import { startOfDay, wallTime } from "@/core/time/zoned";
import type { Say } from "@/core/words/words";
import { etagOf } from "@/data/records/write/write";
import { Empty } from "@/ui/empty";
import { Link } from "@/ui/link";
import { localeOf, one, sayOf } from "../../queries";
import { actingAs } from "../../records/forms";
import { below } from "../at";
import { CalendarMoves, MoveButton } from "./calendar-moves";
import { byField, together } from "./load";
import type { LookProps } from "./look";
import { opensTo } from "./opens";

/** More than these in a month are not told apart. */
const MOST = 400;
/** As many stand in a day of the month; the rest are counted. */
const IN_A_DAY = 4;

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
          <thead>
            <tr>
              {weeks[0]!.map((d) => (
                <th key={d} scope="col" className="quiet border-b border-base-300 px-2 py-1.5 text-left text-sm font-medium">
                  {named({ weekday: "short" }, d)}
                </th>
              ))}
            </tr>
          </thead>
          <Weeks weeks={weeks} month={month} view={view} today={today} props={props} on={on} moving={moving} to={to} />
        </table>
      )}
      <DaysInOrder view={view} days={days} on={on} today={today} named={named} props={props} moving={moving} records={records} say={say} />
    </CalendarMoves>
  );
}

interface Moving {
  readonly may: ReadonlySet<string>;
  readonly after: (x: SeenRecord) => string;
}

function Entries({
  at,
  table,
  settings,
  of,
  day,
  moving,
  most,
  more,
  plain,
}: LookProps & { of: SeenRecord[]; day: string; moving: Moving; most: number; more: string; plain?: boolean }) {
  const { r } = at;
  const to = opensTo(r, table, settings);
  if (of.length === 0) return null;
  return (
    <ul className="grid gap-0.5">
      {of.slice(0, most).map((x) => {
        const href = to(x.id);
        const look = plain ? "" : "block truncate rounded-sm bg-primary/10 px-1.5 py-0.5 text-sm";
        const may = moving.may.has(x.id);
        return (
          <li
            key={x.id}
            className={`min-w-0 ${may ? "group flex items-start gap-1" : ""} ${may && !plain ? "cursor-grab" : ""}`}
            draggable={may && !plain ? true : undefined}
            {...(may
              ? {
                  "data-entry": x.id,
                  "data-day-of": day,
                  "data-after": moving.after(x),
                  "data-seen": etagOf(x),
                  "data-name": r.desk.label(table, x),
                }
              : {})}
          >
            {href ? (
              <Link href={href} className={`${look} ${plain ? "link-plain" : "hover:underline"}`} title={r.desk.label(table, x)}>
                {r.desk.label(table, x)}
              </Link>
            ) : (
              <span className={look}>{r.desk.label(table, x)}</span>
            )}
            {may && <MoveButton day={day} name={r.desk.label(table, x)} />}
          </li>
        );
      })}
      {of.length > most && (
        <li>
          <Link className="link-plain px-1.5 text-sm" href={more}>
            {sayOf(r)("calendar.more", { n: of.length - most })}
          </Link>
        </li>
      )}
    </ul>
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

interface CalendarBarProps {
  readonly say: Say;
  readonly to: (change: Record<string, string | null>) => string;
  readonly step: (by_: 1 | -1) => string;
  readonly view: "month" | "week" | "agenda";
  readonly day: string;
}

/** To other days, and how they are laid out. */
function CalendarBar({ say, to, step, view, day }: CalendarBarProps) {
  return (
    <nav aria-label={say("calendar.move")} className="flex flex-wrap items-center gap-3 text-sm">
      <Link className="btn btn-sm" href={to({ on: step(-1) })} scroll={false} aria-label={say("calendar.before")}>
        ←
      </Link>
      <Link className="btn btn-sm" href={to({ on: null })} scroll={false}>
        {say("calendar.today")}
      </Link>
      <Link className="btn btn-sm" href={to({ on: step(1) })} scroll={false} aria-label={say("calendar.after")}>
        →
      </Link>
      <span className="join">
        {(["month", "week", "agenda"] as const).map((w) => (
          <Link
            key={w}
            className={`btn btn-sm join-item ${w === view ? "btn-primary" : ""} ${w === "agenda" ? "" : "max-sm:hidden"}`}
            aria-current={w === view ? "true" : undefined}
            href={to({ view: w === "month" ? null : w, on: day })}
            scroll={false}
          >
            {say(`calendar.as-${w}`)}
          </Link>
        ))}
      </span>
    </nav>
  );
}

interface WeeksProps {
  readonly weeks: string[][];
  readonly month: string;
  readonly view: "month" | "week";
  readonly today: string;
  readonly props: LookProps;
  readonly on: Map<string, SeenRecord[]>;
  readonly moving: Moving;
  readonly to: (change: Record<string, string | null>) => string;
}

/** The days in weeks, each with what falls on it. */
function Weeks({ weeks, month, view, today, props, on, moving, to }: WeeksProps) {
  return (
    <tbody>
      {weeks.map((week) => (
        <tr key={week[0]}>
          {week.map((d) => (
            <td
              key={d}
              data-day={d}
              className={`h-24 border-b border-l border-base-300/70 p-1.5 align-top first:border-l-0 ${d.startsWith(month) || view === "week" ? "" : "bg-base-200/60"}`}
            >
              <span
                className={`inline-grid size-6 place-items-center rounded-full text-sm tabular-nums ${d === today ? "bg-primary font-semibold text-primary-content" : d.startsWith(month) || view === "week" ? "" : "quiet"}`}
                {...(d === today ? { "aria-current": "date" as const } : {})}
              >
                {Number(d.slice(8))}
              </span>
              <Entries
                {...props}
                of={on.get(d) ?? []}
                day={d}
                moving={moving}
                most={view === "week" ? 30 : IN_A_DAY}
                more={to({ view: "agenda", on: d.slice(0, 7) })}
              />
            </td>
          ))}
        </tr>
      ))}
    </tbody>
  );
}

interface DaysInOrderProps {
  readonly view: "month" | "week" | "agenda";
  readonly days: string[];
  readonly on: Map<string, SeenRecord[]>;
  readonly today: string;
  readonly named: (options: Intl.DateTimeFormatOptions, date: string) => string;
  readonly props: LookProps;
  readonly moving: Moving;
  readonly records: SeenRecord[];
  readonly say: Say;
}

/** Days one below another: for narrow screens, and for the agenda. */
function DaysInOrder({ view, days, on, today, named, props, moving, records, say }: DaysInOrderProps) {
  return (
    <ol className={view === "agenda" ? "" : "sm:hidden"}>
      {days
        .filter((d) => on.has(d))
        .map((d) => (
          <li key={d} className="grid grid-cols-[6.5rem_1fr] gap-3 border-b border-base-300/60 px-4 py-2 last:border-0">
            <span className={`tabular-nums ${d === today ? "font-semibold" : "quiet"}`}>
              {named({ weekday: "short", day: "numeric", month: "short" }, d)}
            </span>
            <Entries {...props} of={on.get(d)!} day={d} moving={moving} most={MOST} more="" plain />
          </li>
        ))}
      {records.length === 0 && <li className="quiet px-4 py-6 text-center">{say("calendar.nothing")}</li>}
    </ol>
  );
}
