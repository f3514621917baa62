import { eachWeekOfInterval, endOfMonth, getISOWeek, getISOWeekYear } from "date-fns";
import { describe, expect, it } from "vitest";
import { addMonths, firstOfWeek, isoWeek, monthGrid, weekday } from "./calendar";

const local = (date: string): Date => new Date(Number(date.slice(0, 4)), Number(date.slice(5, 7)) - 1, Number(date.slice(8)));
const text = (d: Date): string => `${d.getFullYear()}-${String(d.getMonth() + 1).padStart(2, "0")}-${String(d.getDate()).padStart(2, "0")}`;

describe("months and weeks, against date-fns over the 400 years after which the calendar repeats", () => {
  it("has every week of every month, beginning on Monday and on Sunday", () => {
    for (let m = "1800-01"; m < "2200-01"; m = addMonths(m, 1))
      for (const first of [1, 7]) {
        const start = local(`${m}-01`);
        const weeks = eachWeekOfInterval({ start, end: endOfMonth(start) }, { weekStartsOn: first === 7 ? 0 : 1 }).map(text);
        expect(monthGrid(m, first).map((w) => w[0])).toEqual(weeks);
      }
  }, 60_000);
  it("numbers weeks as ISO 8601 does", () => {
    for (let day = Date.UTC(1800, 0, 1); day < Date.UTC(2200, 0, 1); day += 86_400_000) {
      const date = new Date(day).toISOString().slice(0, 10);
      const { year, week } = isoWeek(date);
      if (getISOWeek(local(date)) !== week || getISOWeekYear(local(date)) !== year) throw new Error(`${date}: ${year} W${week}`);
    }
    // Of the standard's own kind of example (from memory): a year's first days may be of the week before, its last of the week after.
    expect(isoWeek("2005-01-01")).toEqual({ year: 2004, week: 53 });
    expect(isoWeek("2008-12-29")).toEqual({ year: 2009, week: 1 });
  }, 60_000);
  it("begins weeks as CLDR says: Monday in Britain, Sunday in the United States", () => {
    expect([firstOfWeek("en-GB"), firstOfWeek("en-US"), weekday("2026-11-26")]).toEqual([1, 7, 4]);
  });
});
