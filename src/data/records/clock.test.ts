/**
 * What depends on the day turns at midnight in the portal's time zone, in SQL and in memory alike. Summer time in the European
 * Union: Directive 2000/84/EC, articles 2 and 3 (last Sundays of March and October, 01:00 UTC); in the United States: Energy
 * Policy Act of 2005, section 110 (second Sunday of March, first of November, 02:00 local). The other changes are those of the
 * IANA time zone database, from memory.
 */
import { beforeEach, describe, expect, it } from "vitest";
import { decide } from "@/core/access/decide";
import { Policy } from "@/core/access/policy";
import type { Grant } from "@/core/access/rules";
import type { Condition } from "@/core/schema/condition";
import type { Schema } from "@/core/schema/types";
import { fill, makeTestSchema, memoryPortal, type TestRecord, testViewer } from "@/testing/world";
import type { PortalFile } from "../file/open";
import { countRecords } from "./counting/count";

let file: PortalFile;
let schema: Schema;
let signs: string;
let fitted: string;

beforeEach(() => {
  file = memoryPortal();
  const made = makeTestSchema(file);
  schema = made.schema;
  signs = made.t.signs;
  fitted = schema.table(signs).fields.find((f) => f.slug === "fitted")!.id;
});

/** Signs seen at an instant, by SQL; the matcher must say the same of each. */
function seen(grant: Partial<Grant>, instant: string, timeZone: string, dates: readonly string[] = ["2026-01-01"]): string[] {
  const records = dates.map((d): TestRecord => ({ table: signs, id: d, companyId: null, values: { [fitted]: d } }));
  const world = fill(file, schema, records);
  const policy = new Policy(schema, {
    roles: [{ id: "lead", name: "Lead", side: "client", includes: [] }],
    walls: { [signs]: { kind: "shared" } },
    grants: [{ id: "g", roles: ["lead"], table: signs, actions: ["see"], filter: null, fields: [fitted], changes: [], ...grant }],
  });
  const viewer = testViewer({ roles: ["lead"], now: Date.parse(instant), timeZone });
  const matched = world.all(signs).filter((r) => decide(policy, viewer, "see", signs, r, world).outcome === "allowed");
  expect(countRecords({ file, policy, viewer }, signs)).toBe(matched.length);
  return matched.map((r) => r.id);
}

describe("a grant for one day only", () => {
  const open = (day: string, zone: string, instant: string): boolean =>
    seen({ validFrom: day, validUntil: day }, instant, zone).length === 1;
  it.each([
    ["Europe/London", "2026-03-29", "2026-03-29T00:00:00Z", "2026-03-29T23:00:00Z", "23 hours: the clock goes forward"],
    ["Europe/London", "2026-10-25", "2026-10-24T23:00:00Z", "2026-10-26T00:00:00Z", "25 hours: the clock goes back"],
    ["America/New_York", "2026-03-08", "2026-03-08T05:00:00Z", "2026-03-09T04:00:00Z", "23 hours"],
    ["America/New_York", "2026-11-01", "2026-11-01T04:00:00Z", "2026-11-02T05:00:00Z", "25 hours"],
    ["Africa/Cairo", "2026-04-24", "2026-04-23T22:00:00Z", "2026-04-24T21:00:00Z", "forward at midnight itself: the day begins at one"],
    ["Asia/Kathmandu", "2026-06-15", "2026-06-14T18:15:00Z", "2026-06-15T18:15:00Z", "a quarter of an hour aside"],
    ["Pacific/Kiritimati", "2026-06-15", "2026-06-14T10:00:00Z", "2026-06-15T10:00:00Z", "fourteen hours ahead"],
  ])("%s, %s: opens at %s, closes at %s (%s)", (zone, day, from, to) => {
    const justBefore = (instant: string): string => new Date(Date.parse(instant) - 1).toISOString();
    expect([justBefore(from), from, justBefore(to), to].map((t) => open(day, zone, t))).toEqual([false, true, true, false]);
  });
  it("never opens where that day was left out of the calendar", () => {
    // Samoa went from 29 to 31 December 2011 at midnight: 2011-12-30T10:00Z.
    for (const t of ["2011-12-30T09:59:59Z", "2011-12-30T10:00:00Z", "2011-12-30T12:00:00Z"])
      expect(open("2011-12-30", "Pacific/Apia", t)).toBe(false);
    expect(open("2011-12-29", "Pacific/Apia", "2011-12-30T09:59:59Z")).toBe(true);
    expect(open("2011-12-31", "Pacific/Apia", "2011-12-30T10:00:00Z")).toBe(true);
  });
});

describe("a filter that counts days from today", () => {
  const test = (operator: "is" | "at-most" | "at-least", days: number, anchor: "today" | "start of month" = "today"): Condition => ({
    kind: "test",
    path: [fitted],
    operator,
    operands: [{ kind: "date", anchor, days }],
  });
  const week = ["2026-03-27", "2026-03-28", "2026-03-29", "2026-03-30", "2026-03-31"];
  it("turns at local midnight on both sides of a short day", () => {
    const at = (instant: string) => seen({ filter: test("is", 0) }, instant, "Europe/London", week);
    expect(at("2026-03-28T23:59:59.999Z")).toEqual(["2026-03-28"]);
    expect(at("2026-03-29T00:00:00Z")).toEqual(["2026-03-29"]);
    expect(at("2026-03-29T22:59:59.999Z")).toEqual(["2026-03-29"]);
    expect(at("2026-03-29T23:00:00Z")).toEqual(["2026-03-30"]);
  });
  it("counts days of the calendar, not of twenty-four hours", () => {
    const at = (days: number) => seen({ filter: test("is", days) }, "2026-03-29T22:30:00Z", "Europe/London", week);
    expect([-2, -1, 1, 2].map((n) => at(n)[0])).toEqual(["2026-03-27", "2026-03-28", "2026-03-30", "2026-03-31"]);
  });
  it("begins a month where the portal is, not where the server is", () => {
    const at = (zone: string) =>
      seen({ filter: test("at-least", 0, "start of month") }, "2026-03-31T23:30:00Z", zone, [...week, "2026-04-01"]);
    expect(at("Europe/London")).toEqual(["2026-04-01"]);
    expect(at("UTC")).toEqual([...week, "2026-04-01"]);
  });
});
