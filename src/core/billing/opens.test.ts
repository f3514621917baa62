/** What each kind of offer opens, and how its records are found. */
import { expect, it } from "vitest";
import { offerSchema } from "../definition/parts/plans";
import { type Opens, openedBy, recordsOpened } from "./opens";

const EACH: Record<Opens["kind"], Opens> = {
  order: { kind: "order" },
  feature: { kind: "feature", feature: "reports", days: null },
  record: { kind: "record", table: "t_papers", days: 30 },
  set: { kind: "set", table: "t_papers", filter: null, days: null },
  "top-up": { kind: "top-up", table: "t_requests", n: 5, days: null },
};

it("an order and more of an allowance open no record, whatever was chosen beside them", () => {
  expect(Object.fromEntries(Object.entries(EACH).map(([kind, opens]) => [kind, openedBy(opens, ["r1", "r2"])]))).toEqual({
    order: [],
    feature: [{ kind: "feature", ref: "reports" }],
    record: [
      { kind: "record", ref: "r1" },
      { kind: "record", ref: "r2" },
    ],
    set: [
      { kind: "record", ref: "r1" },
      { kind: "record", ref: "r2" },
    ],
    "top-up": [],
  });
  expect(Object.values(EACH).map(recordsOpened)).toEqual([null, null, "one", "all", null]);
});

it("a kind that nobody knows is refused by the definition, and opens nothing", () => {
  const strange = { kind: "week-pass", table: "t_papers", days: 7 } as never;
  expect(offerSchema.shape.opens.safeParse(strange).success).toBe(false);
  expect(() => openedBy(strange, ["r1"])).toThrow("Unhandled case");
});
