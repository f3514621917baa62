/** The owner's figures: money a month at the ends of months in the portal's zone, and who is near their allowance. */
import { expect, it } from "vitest";
import { published, storePublished } from "@/data/definition/published";
import { must, testPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import { months, nearAllowance, openOnes, worthAt } from "./money";
import { noteWorth, setSubscription } from "./standing";

const at = (text: string): number => Date.parse(text);

it("a month ends at midnight in the portal's zone; what came, went, rose and fell comes out even, month by month", () => {
  const p = testPortal({ grants: [] });
  const note = (c: string, plan: string, monthly: number, when: string) => noteWorth(p.file, p.company(c), plan, monthly, at(when));
  note("One", "a", 9_000, "2026-03-10T09:00:00Z");
  note("Two", "b", 18_000, "2026-04-30T22:30:00Z"); // 23:30 in London: still April
  note("Three", "b", 18_000, "2026-04-30T23:30:00Z"); // half past midnight there: May
  note("One", "b", 18_000, "2026-05-02T09:00:00Z");
  note("Two", "b", 0, "2026-06-03T09:00:00Z");
  note("One", "a", 9_000, "2026-06-04T09:00:00Z");
  note("One", "a", 9_000, "2026-06-05T09:00:00Z"); // nothing new
  const m = months(p.file, p.owner, "2026-06-15", 4).map((x) => [
    x.month,
    x.moved.now,
    x.moved.come,
    x.moved.gone,
    x.moved.more,
    x.moved.less,
  ]);
  expect(m).toEqual([
    ["2026-03", 9_000, 9_000, 0, 0, 0],
    ["2026-04", 27_000, 18_000, 0, 0, 0],
    ["2026-05", 54_000, 18_000, 0, 9_000, 0],
    ["2026-06", 27_000, 0, 18_000, 0, 9_000],
  ]);
  expect(
    worthAt(p.file, p.owner, at("2026-06-15T00:00:00Z"))
      .map((w) => w.monthly)
      .sort(),
  ).toEqual([18_000, 9_000]);
  expect(openOnes(p.file, p.owner)).toEqual([]); // nothing is sold here yet, so there are no books
});

it("whoever has used four fifths of an allowance, or has one left of it, is named", () => {
  const p = testPortal({ grants: [{ roles: ["lead"], table: "sites", actions: ["see", "add"], changes: ["name"] }] });
  const plan = (id: string, perMonth: number) => ({
    id,
    name: id,
    about: "",
    features: [],
    allowances: [{ table: p.table("sites").id, perMonth, by: "month" as const, filter: null }],
    seats: null,
    offered: "all" as const,
  });
  storePublished(p.file, { ...published(p.file).definition, plans: [plan("two", 2), plan("ten", 10)] }, PUBLISHER);
  const by = { actor: { kind: "system", id: "test" }, via: "job", at: 0 } as const;
  for (const [c, id] of [
    ["One", "two"],
    ["Two", "ten"],
    ["Three", "two"],
  ] as const)
    setSubscription(p.file, p.company(c), { plan: id, state: "active", until: null, timeZone: "UTC" }, by);
  const add = (d: ReturnType<typeof p.person>, n: number): void => {
    for (let i = 0; i < n; i++) must(d.add(p.table("sites"), p.values("sites", { name: String(i) })));
  };
  add(p.person("Dana", "One", "lead"), 1);
  const rafe = p.person("Rafe", "Two", "lead");
  add(rafe, 7);
  expect(nearAllowance(p.file, p.owner, "2026-06-15").map((n) => [n.plan, n.used])).toEqual([["two", 1]]);
  add(rafe, 1);
  expect(
    nearAllowance(p.file, p.owner, "2026-06-15")
      .map((n) => [n.plan, n.used])
      .sort(),
  ).toEqual([
    ["ten", 8],
    ["two", 1],
  ]);
});
