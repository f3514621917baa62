/** Allowances: one more than a plan has is refused in the transaction of the addition, whoever asks how often; others do not count. */
import { beforeEach, expect, it } from "vitest";
import type { Act } from "@/core/access/act";
import { published, storePublished } from "@/data/definition/published";
import { must, type TestPortal, testPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import type { Desk } from "../records/desk";
import { usedIn } from "./ledger";
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
