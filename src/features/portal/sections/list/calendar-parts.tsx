import type { SeenRecord } from "@/core/schema/seen";
import type { Say } from "@/core/words/words";
import { etagOf } from "@/data/records/write/write";
import { Link } from "@/ui/link";
import { sayOf } from "../../queries";
import { MoveButton } from "./calendar-moves";
import type { LookProps } from "./look";
import { opensTo } from "./opens";

interface CalendarBarProps {
  readonly say: Say;
  readonly to: (change: Record<string, string | null>) => string;
  readonly step: (by_: 1 | -1) => string;
  readonly view: "month" | "week" | "agenda";
  readonly day: string;
}

/** To other days, and how they are laid out. */
export function CalendarBar({ say, to, step, view, day }: CalendarBarProps) {
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
export function Weeks({ weeks, month, view, today, props, on, moving, to }: WeeksProps) {
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
export function DaysInOrder({ view, days, on, today, named, props, moving, records, say }: DaysInOrderProps) {
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

/** Names of the days. */
export function WeekdayNames({
  weeks,
  named,
}: {
  weeks: string[][];
  named: (options: Intl.DateTimeFormatOptions, date: string) => string;
}) {
  return (
    <thead>
      <tr>
        {weeks[0]!.map((d) => (
          <th key={d} scope="col" className="quiet border-b border-base-300 px-2 py-1.5 text-left text-sm font-medium">
            {named({ weekday: "short" }, d)}
          </th>
        ))}
      </tr>
    </thead>
  );
}

/** More than these in a month are not told apart. */
export const MOST = 400;

/** As many stand in a day of the month; the rest are counted. */
export const IN_A_DAY = 4;

export interface Moving {
  readonly may: ReadonlySet<string>;
  readonly after: (x: SeenRecord) => string;
}

export function Entries({
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
