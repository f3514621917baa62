/** Months and weeks as a calendar shows them. Days are `YYYY-MM-DD`; weeks begin where the locale says. */
import { addDays } from "../time/relative";

/** 1 is Monday, 7 is Sunday (ISO 8601 section 4.3.2.2). */
export const weekday = (date: string): number => ((new Date(`${date}T00:00:00Z`).getUTCDay() + 6) % 7) + 1;

/** The first day of weeks in a locale (Unicode CLDR, week data); Monday where nobody knows. */
export function firstOfWeek(locale: string): number {
  const l = new Intl.Locale(locale) as Intl.Locale & { getWeekInfo?(): { firstDay: number }; weekInfo?: { firstDay: number } };
  return l.getWeekInfo?.().firstDay ?? l.weekInfo?.firstDay ?? 1;
}

/** The seven days (YYYY-MM-DD) of the week that a date is in; `first` is the day that weeks begin with, 1 for Monday to 7 for Sunday. */
export const weekOf = (date: string, first: number): string[] => {
  const start = addDays(date, -((weekday(date) - first + 7) % 7));
  return Array.from({ length: 7 }, (_, i) => addDays(start, i));
};

/** Whole weeks, from the one that has the month's first day to the one that has its last. `month` is `YYYY-MM`. */
export function monthGrid(month: string, first: number): string[][] {
  const weeks: string[][] = [];
  for (let week = weekOf(`${month}-01`, first); week[0]!.slice(0, 7) <= month; week = week.map((d) => addDays(d, 7))) weeks.push(week);
  return weeks;
}

/** A month (YYYY-MM) so many later, or earlier. */
export function addMonths(month: string, n: number): string {
  const [y, m] = month.split("-").map(Number) as [number, number];
  const at = y * 12 + (m - 1) + n;
  return `${String(Math.floor(at / 12)).padStart(4, "0")}-${String((at % 12) + 1).padStart(2, "0")}`;
}

/** The week's number: the week of the year that has its Thursday (ISO 8601 section 3.1.1.23). */
export function isoWeek(date: string): { year: number; week: number } {
  const thursday = addDays(date, 4 - weekday(date));
  const year = Number(thursday.slice(0, 4));
  const days = (Date.parse(`${thursday}T00:00:00Z`) - Date.parse(`${thursday.slice(0, 4)}-01-01T00:00:00Z`)) / 86_400_000;
  return { year, week: Math.floor(days / 7) + 1 };
}

/** Whether a text is a month as `2026-06`, with a month before it and one after. */
export const isMonth = (text: string): boolean => /^\d{4}-(0[1-9]|1[0-2])$/.test(text) && text >= "0001-01" && text <= "9998-12";
