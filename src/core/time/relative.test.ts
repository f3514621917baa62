import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { addDays, anchorDate, dateIn, isCalendarDate } from "./relative";

describe("calendar dates", () => {
  it("are those that the platform's own calendar has, for every day and non-day of two centuries (ISO 8601, Gregorian)", () => {
    for (let year = 1900; year <= 2100; year++) {
      for (let month = 0; month <= 13; month++) {
        for (let day = 0; day <= 32; day++) {
          const text = `${year}-${String(month).padStart(2, "0")}-${String(day).padStart(2, "0")}`;
          const date = new Date(Date.UTC(year, month - 1, day));
          const real = month >= 1 && month <= 12 && day >= 1 && date.getUTCMonth() === month - 1 && date.getUTCDate() === day;
          if (isCalendarDate(text) !== real) throw new Error(`${text} should ${real ? "" : "not "}be a date`);
        }
      }
    }
  });
  it.each(["2026-1-1", "26-01-01", "2026-01-01T00:00", "", "２０２６-01-01"])("%s is not written as one", (text) =>
    expect(isCalendarDate(text)).toBe(false),
  );

  it("adding days and taking them away again comes back", () => {
    fc.assert(
      fc.property(
        fc.date({ min: new Date("1950-01-01"), max: new Date("2090-01-01"), noInvalidDate: true }),
        fc.integer({ min: -5000, max: 5000 }),
        (d, n) => {
          const date = d.toISOString().slice(0, 10);
          expect(addDays(addDays(date, n), -n)).toBe(date);
        },
      ),
    );
  });
});

describe("today, in the portal's time zone", () => {
  it.each([
    ["Europe/London", "2026-07-01T22:59:59Z", "2026-07-01"],
    ["Europe/London", "2026-07-01T23:00:00Z", "2026-07-02"], // summer time
    ["Europe/London", "2026-01-01T23:30:00Z", "2026-01-01"],
    ["Pacific/Kiritimati", "2026-01-01T10:00:00Z", "2026-01-02"], // UTC+14
    ["America/Los_Angeles", "2026-01-01T07:59:00Z", "2025-12-31"],
    ["UTC", "2024-02-29T12:00:00Z", "2024-02-29"],
  ])("%s at %s is %s", (zone, instant, date) => expect(dateIn(Date.parse(instant), zone)).toBe(date));
});

describe("anchors", () => {
  it.each([
    ["2026-06-15", "2026-06-15"], // a Monday
    ["2026-06-21", "2026-06-15"], // the Sunday after
    ["2026-01-01", "2025-12-29"],
  ])("the week of %s starts on %s (ISO 8601: Monday)", (today, monday) => expect(anchorDate("start of week", today)).toBe(monday));
  it("months and years", () => {
    expect(anchorDate("start of month", "2024-02-29")).toBe("2024-02-01");
    expect(anchorDate("start of year", "2024-02-29")).toBe("2024-01-01");
    expect(anchorDate("today", "2024-02-29")).toBe("2024-02-29");
  });
});
