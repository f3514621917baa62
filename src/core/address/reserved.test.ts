import { readdirSync } from "node:fs";
import { join } from "node:path";
import { expect, it } from "vitest";
import { isReserved } from "./reserved";

it("every route of a portal that is not a table's is reserved", () => {
  const routes = readdirSync(join(import.meta.dirname, "../../app/p/[portal]"), { withFileTypes: true })
    .filter((e) => e.isDirectory() && !e.name.startsWith("["))
    .map((e) => e.name);
  expect(routes.length).toBeGreaterThan(3);
  expect(routes.filter((r) => !isReserved("table", r) || !isReserved("page", r))).toEqual([]);
});

it("a record is not called as a form is, and a portal not as a host that is something else", () => {
  expect(["new", "change"].every((w) => isReserved("record", w))).toBe(true);
  expect([isReserved("portal", "www"), isReserved("portal", "rehearsal-fernhill"), isReserved("portal", "fernhill")]).toEqual([
    true,
    true,
    false,
  ]);
});
