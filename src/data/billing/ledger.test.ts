/** Allowances: one more than a plan has is refused in the transaction of the addition, whoever asks how often; others do not count. */
import { beforeEach, describe, expect, it } from "vitest";
import type { Act } from "@/core/access/act";
import { published, storePublished } from "@/data/definition/published";
import { must, type TestPortal, testPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import { mergeInto } from "../parting/parting";
import type { Desk } from "../records/desk";
import { restoreRecord } from "../records/write/bin";
import { allowancesOf, usedIn } from "./ledger";
import { store } from "./life";
import { setSubscription } from "./standing";

let p: TestPortal;
let dana: Desk;
let wren: Desk; // of the same company
let rafe: Desk; // of another

const BY = { actor: { kind: "system", id: "test" }, via: "job", at: 0 } as const;
const report = (x: TestPortal): Act => ({
  id: "report",
  name: "Report",
  table: x.table("sites").id,
  on: "add",
  sets: [{ field: x.field("sites", "open"), to: { kind: "literal", value: true } }],
});
const plan = (id: string, perMonth: number) => ({
  id,
  name: id,
  about: "",
  features: [],
  allowances: [{ table: p.table("sites").id, perMonth, by: "month" as const, filter: null }],
  seats: null,
  offered: "all" as const,
});

beforeEach(() => {
  p = testPortal({
    grants: [
      { roles: ["lead"], table: "sites", actions: ["see", "add", "remove"], changes: ["name"] },
      { roles: ["lead"], table: "sites", actions: [], acts: ["report"], changes: ["name"] },
      { roles: ["staff"], table: "companies" },
      { roles: ["staff"], table: "sites", actions: ["see", "add"], changes: ["name", "company"] },
    ],
    acts: (x) => [report(x)],
  });
  storePublished(p.file, { ...published(p.file).definition, plans: [plan("small", 3), plan("large", 50)] }, PUBLISHER);
  dana = p.person("Dana", "One", "lead");
  wren = p.person("Wren", "One", "lead");
  rafe = p.person("Rafe", "Two", "lead");
  const paid = { plan: "small", state: "active", until: null, timeZone: "UTC" } as const;
  for (const c of ["One", "Two"]) setSubscription(p.file, p.company(c), paid, BY);
});
const sites = () => p.table("sites");
const add = (d: Desk, name: string) => d.add(sites(), p.values("sites", { name }));
const count = () => p.file.db.prepare(`SELECT count(*) FROM "${sites().id}"`).pluck().get();

it("is the company's, not one person's, by whatever way they add; removing gives nothing back", () => {
  const one = must(add(dana, "1"));
  must(wren.act(report(p), null, p.values("sites", { name: "2" })));
  must(add(wren, "3"));
  const before = count();
  const refused = { ok: false, error: { code: "used-up", plan: "small", limit: 3, again: "2026-07-01" } };
  expect(add(dana, "4")).toMatchObject(refused);
  expect(wren.act(report(p), null, p.values("sites", { name: "4" }))).toMatchObject(refused);
  expect(count()).toBe(before);
  must(dana.remove(sites(), one.id));
  expect(add(dana, "4")).toMatchObject(refused);
  // Another company has its own.
  must(add(rafe, "1"));
});

it("what the agency adds does not count, nor what is refused for another reason", () => {
  const ines = p.person("Ines", null, "staff");
  must(ines.add(sites(), p.values("sites", { name: "Ours", company: p.company("One") })));
  for (let i = 0; i < 5; i++) expect(dana.add(sites(), p.values("sites", { name: "x", open: true })).ok).toBe(false);
  for (const name of ["1", "2", "3"]) must(add(dana, name));
  expect(add(dana, "4")).toMatchObject({ error: { code: "used-up" } });
});

it("a hundred at once get exactly what is left", async () => {
  const tried = await Promise.all(Array.from({ length: 100 }, async (_, i) => add(i % 2 ? dana : wren, String(i))));
  expect(tried.filter((t) => t.ok)).toHaveLength(3);
});

it("begins anew with the month of the portal's zone, and goes on where the plan becomes a larger one", () => {
  for (const name of ["1", "2", "3"]) must(add(dana, name));
  const company = p.company("One");
  expect([usedIn(p.file, company, sites().id, "2026-06"), usedIn(p.file, company, sites().id, "2026-07")]).toEqual([3, 0]);
  // 30 June, 23:30 in London (UTC+1 in summer): there it is still June; at 23:30 UTC it is July.
  const at = (iso: string) => p.desk({ ...dana.viewer, now: Date.parse(iso) } as typeof dana.viewer);
  expect(add(at("2026-06-30T22:30:00Z"), "4")).toMatchObject({ error: { code: "used-up" } });
  must(add(at("2026-06-30T23:30:00Z"), "4"));
  setSubscription(p.file, company, { plan: "large", state: "active", until: null, timeZone: "UTC" }, BY);
  must(add(dana, "5"));
  expect(usedIn(p.file, company, sites().id, "2026-06")).toBe(4);
});

it("the number that is asked for stays the number of its lines, through two companies made one, undone, and a refused addition", () => {
  for (const name of ["1", "2", "3"]) must(add(dana, name));
  for (const name of ["1", "2"]) must(add(rafe, name));
  expect(add(dana, "4").ok).toBe(false);
  const [one, two] = [p.company("One"), p.company("Two")];
  const number = (company: string) => usedIn(p.file, company, sites().id, "2026-06");
  const lines = (company: string) => p.file.db.prepare("SELECT count(*) FROM sys_allowance_uses WHERE company_id = ?").pluck().get(company);
  const same = (): void => {
    for (const c of [one, two]) expect(number(c)).toBe(lines(c));
  };
  same();
  must(mergeInto(p.file, p.owner, "companies", one, two, true));
  same();
  expect([number(one), number(two)]).toEqual([5, 0]);
  must(restoreRecord({ file: p.file, policy: published(p.file).policy, viewer: p.owner }, two));
  same();
  expect([number(one), number(two)]).toEqual([3, 2]);
  p.file.db.exec("DELETE FROM sys_allowance_uses");
  same();
});

describe("what counts, and from when", () => {
  const publish = (allowance: object): void => {
    const one = { ...plan("small", 2), allowances: [{ ...plan("small", 2).allowances[0]!, ...allowance }] };
    storePublished(p.file, { ...published(p.file).definition, plans: [one] }, PUBLISHER);
  };
  const at = (d: Desk, iso: string): Desk => p.desk({ ...p.again(d).viewer, now: Date.parse(iso) } as typeof d.viewer);

  it("is what a filter takes of what is added; the rest costs nothing", () => {
    publish({
      filter: { kind: "test", path: [p.field("sites", "name")], operator: "starts-with", operands: [{ kind: "literal", value: "Big" }] },
    });
    for (const name of ["small 1", "small 2", "small 3", "Big 1", "big 2"]) must(add(p.again(dana), name));
    expect(add(p.again(dana), "Big 3")).toMatchObject({ error: { code: "used-up" } });
    must(add(p.again(dana), "small 4"));
  });

  it("is counted from the day of the subscription where the owner says so, a year's twelve times", () => {
    publish({ by: "period" });
    const terms = { plan: "small", price: "x", cycle: "year", each: 1, seats: 1 } as const;
    const life = { state: "active", terms, next: null, anchor: "2026-01-31", paidUntil: "2027-01-31", graceUntil: null } as const;
    store(p.file, { company: p.company("One"), day: "2026-01-31", timeZone: "UTC", collect: "none", by: BY }, life);
    must(add(at(dana, "2026-02-27T12:00:00Z"), "1"));
    must(add(at(dana, "2026-02-27T12:00:00Z"), "2"));
    expect(add(at(dana, "2026-02-27T12:00:00Z"), "3")).toMatchObject({ error: { code: "used-up", again: "2026-02-28" } });
    must(add(at(dana, "2026-02-28T12:00:00Z"), "3"));
    must(add(at(dana, "2026-03-01T12:00:00Z"), "4"));
    expect(add(at(dana, "2026-03-30T12:00:00Z"), "5")).toMatchObject({ error: { code: "used-up", again: "2026-03-31" } });
  });

  it("goes on with what was bought beside it, what ends first first, and not a day after its end; a hundred at once take no more", async () => {
    publish({});
    const top = p.file.db.prepare("INSERT INTO sys_top_ups (id, company_id, table_id, n, until, at) VALUES (?, ?, ?, ?, ?, 0)");
    top.run("keeps", p.company("One"), sites().id, 3, null);
    top.run("soon", p.company("One"), sites().id, 2, "2026-06-20");
    top.run("over", p.company("One"), sites().id, 9, "2026-06-15");
    const tried = await Promise.all(Array.from({ length: 100 }, async (_, i) => add(p.again(i % 2 ? dana : wren), String(i))));
    expect(tried.filter((t) => t.ok)).toHaveLength(2 + 2 + 3);
    expect(p.file.db.prepare("SELECT id, used FROM sys_top_ups ORDER BY id").raw().all()).toEqual([
      ["keeps", 3],
      ["over", 0],
      ["soon", 2],
    ]);
    expect(allowancesOf(p.file, { plan: published(p.file).definition.plans[0]! }, p.company("One"), "2026-06-15")).toEqual([
      { table: sites().id, limit: 2, used: 2, beside: 0, again: "2026-07-01" },
    ]);
    must(add(rafe, "of another company"));
  });
});
