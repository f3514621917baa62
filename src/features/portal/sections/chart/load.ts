/** The groups of a chart as its reader may know them, in an order that people expect. */

import { addMonths } from "@/core/pages/calendar";
import type { SectionOf } from "@/core/pages/page";
import { choosesOne, isDay, isMoment, isRelation, isYesNo } from "@/core/schema/fields/natures";
import type { Field, Table } from "@/core/schema/types";
import { dateIn } from "@/core/time/relative";
import { type Group, grouped } from "@/data/records/counting/measure";
import type { PortalRequest } from "@/identity/requests/request";
import { localeOf, sayOf } from "../../queries";

export interface Bar {
  /** As an address names the group: "" of the records without a value. */
  readonly key: string;
  readonly name: string;
  readonly value: number;
}
export interface ChartView {
  readonly table: Table;
  readonly by: Field;
  readonly of: Field | null;
  readonly bars: readonly Bar[];
  /** Groups beyond those that are shown, put together. */
  readonly rest: number;
  readonly months: boolean;
}

/** As many groups are drawn; the rest are put together. */
const MOST_BARS = 24;

/** Null where the reader knows nothing of what it is made of. */
export function chartView(r: PortalRequest, { config }: SectionOf<"chart">): ChartView | null {
  const table = r.desk.schema.table(config.source.table);
  const by = table.fields.find((f) => f.id === config.by);
  const of = config.of === null ? null : (table.fields.find((f) => f.id === config.of) ?? null);
  if (!by || !r.desk.may(table, "see") || !r.desk.knows(table, by) || (of && !r.desk.knows(table, of))) return null;
  const step = isDay(by) ? "month" : isMoment(by) ? "hour" : "plain";
  const groups = grouped(
    r.desk,
    table.id,
    { condition: config.source.filter },
    { field: by.id, step },
    { measure: config.measure, of: config.of },
  );
  const worth = (g: Group): number => (config.measure === "count" ? g.n : (g.value ?? 0));
  const months = step !== "plain";
  if (months) return { table, by, of, bars: byMonths(r, groups, config.measure), rest: 0, months };
  const ordered = inOrder(
    by,
    groups.map((g) => ({ key: g.key === null ? "" : String(g.key), of: g.key, value: worth(g) })),
  );
  // Only those that are drawn are looked up by name.
  const bars = ordered.slice(0, MOST_BARS).map((g): Bar => ({ key: g.key, name: nameOf(r, by, g.of), value: g.value }));
  return { table, by, of, bars, rest: ordered.slice(MOST_BARS).reduce((sum, g) => sum + g.value, 0), months };
}

function nameOf(r: PortalRequest, by: Field, key: Group["key"]): string {
  const say = sayOf(r);
  if (key === null) return say("chart.none");
  if (choosesOne(by)) return by.options.choices.find((c) => c.id === key)?.name ?? String(key);
  if (isYesNo(by)) return say(key === 1 ? "chart.yes" : "chart.no");
  return isRelation(by) ? (r.desk.labelOf(r.desk.schema.table(by.options.target), String(key)) ?? say("history.somebody")) : String(key);
}

/** Choices as the agency ordered them; others with the most first; those without a value last. */
function inOrder<B extends Pick<Bar, "key" | "value">>(by: Field, bars: readonly B[]): B[] {
  const at = new Map((by.options.choices ?? []).map((c, i) => [c.id, i]));
  return bars.toSorted((a, b) => {
    if ((a.key === "") !== (b.key === "")) return a.key === "" ? 1 : -1;
    return choosesOne(by) ? (at.get(a.key) ?? 99) - (at.get(b.key) ?? 99) : b.value - a.value;
  });
}

/** Every month from the first to the last, those without records too; moments by the portal's own months. */
function byMonths(r: PortalRequest, groups: readonly Group[], measure: string): Bar[] {
  const { timeZone, locale } = localeOf(r);
  const sums = new Map<string, { value: number; n: number }>();
  for (const g of groups) {
    if (g.key === null) continue;
    const text = String(g.key);
    const month = text.length === 7 ? text : dateIn(Date.parse(`${text}:00:00Z`), timeZone).slice(0, 7);
    const there = sums.get(month);
    const value = measure === "count" ? g.n : (g.value ?? 0);
    sums.set(month, { n: (there?.n ?? 0) + g.n, value: there ? joined(measure, there, { value, n: g.n }) : value });
  }
  const known = [...sums.keys()].sort();
  if (known.length === 0) return [];
  const named = monthNames(locale);
  const bars: Bar[] = [];
  // Of a long span only the last months are drawn.
  const from = [known[0]!, addMonths(known.at(-1)!, 1 - MOST_BARS)].sort()[1]!;
  for (let m = from; m <= known.at(-1)!; m = addMonths(m, 1))
    bars.push({ key: m, name: named.format(Date.parse(`${m}-15T00:00:00Z`)), value: sums.get(m)?.value ?? 0 });
  return bars;
}

/** Making one costs more than all that it then says on a page. */
const NAMES = new Map<string, Intl.DateTimeFormat>();
function monthNames(locale: string): Intl.DateTimeFormat {
  let known = NAMES.get(locale);
  if (!known) NAMES.set(locale, (known = new Intl.DateTimeFormat(locale, { month: "short", year: "2-digit", timeZone: "UTC" })));
  return known;
}

function joined(measure: string, a: { value: number; n: number }, b: { value: number; n: number }): number {
  if (measure === "least") return Math.min(a.value, b.value);
  if (measure === "most") return Math.max(a.value, b.value);
  return measure === "average" ? (a.value * a.n + b.value * b.n) / (a.n + b.n) : a.value + b.value;
}
