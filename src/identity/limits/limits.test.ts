import { describe, expect, it } from "vitest";
import { memoryPortal } from "@/testing/world";
import { countTry, limitsOf, waitFor } from "./limits";

const NOW = Date.parse("2026-06-15T12:00:00Z");
const at = (address: string) => ({ address, device: null });

describe("what was counted", () => {
  it("is not pushed out by tens of thousands of names that are made up", { timeout: 60_000 }, () => {
    const { orm, db } = memoryPortal();
    const dana = limitsOf("dana@one.example", at("10.0.0.1"));
    for (let i = 0; i < 30; i++) countTry(orm, dana, NOW + i);
    expect(waitFor(orm, dana, NOW + 100)).toBeGreaterThan(60_000);
    // As many as the table may hold, as they would have been counted; the rest one by one.
    db.prepare(
      `WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 19990)
       INSERT INTO sys_attempts SELECT 'made up ' || i, 1, ? + i FROM n`,
    ).run(NOW + 200);
    db.transaction(() => {
      for (let i = 0; i < 1_500; i++)
        countTry(orm, limitsOf(`nobody-${i}@made.example`, at(`10.1.${i % 200}.${i % 250}`)).slice(0, 1), NOW + 20_200 + i);
    })();
    expect(db.prepare("SELECT count(*) FROM sys_attempts").pluck().get()).toBeLessThanOrEqual(20_200);
    expect(waitFor(orm, dana, NOW + 30_000)).toBeGreaterThan(60_000);
  });
  it("counts the networks around an IPv6 place: another /64 of the same /56, another /56 of the same /48", () => {
    for (const [free, place] of [
      [80, (i: number) => `2001:db8:1:${(0xab00 + (i % 256)).toString(16)}::/64`],
      [160, (i: number) => `2001:db8:1:${(i * 256).toString(16)}::/64`],
    ] as const) {
      const { orm } = memoryPortal();
      const tries = Array.from({ length: free + 5 }, (_, i) => {
        const limits = limitsOf(`somebody-${i}`, at(place(i)));
        const wait = waitFor(orm, limits, NOW + i);
        countTry(orm, limits, NOW + i);
        return wait;
      });
      expect([free, tries[free - 1], tries[free + 3]! > 0]).toEqual([free, 0, true]);
      expect(waitFor(orm, limitsOf("somebody", at("2001:db8:2:1::/64")), NOW + 1_000)).toBe(0);
    }
  });
});
