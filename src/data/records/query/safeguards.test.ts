/** What breaks a safeguard, counted for many at once, is what the decisions on each record say. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { decide } from "@/core/access/decide";
import { Policy } from "@/core/access/policy";
import { linked } from "@/core/access/row";
import type { Action, Grant } from "@/core/access/rules";
import { BOUNDS, breachOf, type Claim, type Safeguard, safeguardProblems } from "@/core/access/safeguards";
import type { Viewer } from "@/core/access/who/viewer";
import type { Schema, Table } from "@/core/schema/types";
import { waysToCompanies } from "@/core/schema/ways";
import { policy, type RandomPolicy, records, viewer } from "@/testing/arbitraries";
import { enough, runs, said, seed } from "@/testing/random";
import { fill, makeTestSchema, memoryPortal, testViewer } from "@/testing/world";
import { storeCompanies } from "../../tables/company";
import { worldOf } from "../../tables/rows";
import { anyWhere, countWhere, ManyCounter } from "../counting/count-many";

const file = memoryPortal();
const { schema } = makeTestSchema(file);
const owner = testViewer({ kind: "owner" }) as never;

const DOING: Action[] = ["see", "change", "remove", "export"];
const claim = (table: Table): fc.Arbitrary<Claim> =>
  fc.oneof(
    fc.constantFrom(...DOING).map((action): Claim => ({ kind: "nothing", action })),
    fc
      .tuple(fc.constantFrom(...DOING), fc.constantFrom(...waysToCompanies(schema, table)))
      .map(([action, way]): Claim => ({ kind: "others", action: action as "see", way })),
    fc.tuple(fc.constantFrom(...BOUNDS), fc.nat(4)).map(([bound, n]): Claim => ({ kind: "count", bound, n })),
    fc
      .tuple(fc.constantFrom("see" as const, "change" as const), fc.constantFrom(...table.fields.map((f) => f.id)))
      .map(([action, field]): Claim => ({ kind: "field", action, field })),
  );
const safeguard = fc
  .constantFrom(...schema.tables)
  .chain((t) => claim(t).map((c): Safeguard => ({ id: "s", subject: { kind: "side", side: "client" }, table: t.id, claim: c })));

/** The random grants see and download; here they also change and remove, and list fields to change. */
const acting = fc.tuple(policy(schema), fc.array(fc.subarray(DOING, { minLength: 1 }), { minLength: 16, maxLength: 16 })).map(
  ([p, actions]): RandomPolicy => ({
    ...p,
    grants: p.grants.map((g, i) => ({ ...g, actions: i % 2 ? g.actions : actions[i]!, changes: i % 3 ? [] : g.fields })),
  }),
);

/** The same rules, where on this table only grants that pass do this. */
const only = (rules: RandomPolicy, table: string, action: Action, passes: (g: Grant) => boolean): Policy =>
  new Policy(schema, {
    ...rules,
    grants: rules.grants.map((g) => (g.table !== table || passes(g) ? g : { ...g, actions: g.actions.filter((a) => a !== action) })),
  });

it(`against decisions on every record, on ${said(1000)} random policies (seed ${seed})`, () => {
  const met = new Map<string, number>();
  fc.assert(
    fc.property(
      acting,
      records(schema),
      fc.array(viewer(schema), { minLength: 1, maxLength: 3 }),
      fc.array(safeguard, { minLength: 4, maxLength: 8 }),
      (rules, recs, who, guards) => {
        fill(file, schema, recs);
        const p = new Policy(schema, rules);
        for (const t of schema.tables) storeCompanies(file, p, t.id);
        const world = worldOf(file, schema);
        const counter = new ManyCounter(file, schema, owner);
        const counts = {
          plan: (t: string, plan: Parameters<typeof counter.count>[1]) => counter.count(t, plan),
          any: (t: string, where: Parameters<typeof anyWhere>[3]) => anyWhere(file, schema, t, where),
        };
        for (const v of who)
          for (const s of guards) {
            const ids = recs.filter((r) => r.table === s.table).map((r) => r.id);
            const may = (q: Policy, action: Action, id: string): boolean =>
              decide(q, v, action, s.table, world.row(s.table, id)!, world).outcome === "allowed";
            const c = s.claim;
            const breach = breachOf(p, s, v, counts);
            if (c.kind === "count") {
              const n = ids.filter((id) => may(p, "see", id)).length;
              const holds = { exactly: n === c.n, "at most": n <= c.n, "at least": n >= c.n }[c.bound];
              expect(breach?.n ?? null).toBe(holds ? null : n);
            } else {
              const breaks = ids.filter((id) => {
                if (!may(p, "see", id)) return false;
                if (c.kind === "nothing") return may(p, c.action, id);
                if (c.kind === "others") return may(p, c.action, id) && elsewhere(schema, world, s.table, id, c.way, v);
                const to = c.action === "see" ? "fields" : "changes";
                return may(
                  only(rules, s.table, c.action, (g) => g[to].includes(c.field)),
                  c.action,
                  id,
                );
              });
              expect([c, !!breach, breach?.n ?? breaks.length]).toEqual([c, breaks.length > 0, breaks.length]);
              if (breach) expect(countWhere(file, schema, s.table, breach.where)).toBe(breaks.length);
            }
            const name = `${c.kind} ${breach ? "broken" : "held"}`;
            met.set(name, (met.get(name) ?? 0) + 1);
          }
      },
    ),
    { seed, numRuns: runs(1000) },
  );
  for (const kind of ["nothing", "others", "count", "field"])
    for (const end of ["broken", "held"]) expect([kind, end, (met.get(`${kind} ${end}`) ?? 0) > enough(50)]).toEqual([kind, end, true]);
}, 120_000);

/** Whether the way leads to companies, and to none of the viewer's. */
function elsewhere(of: Schema, world: ReturnType<typeof worldOf>, table: string, id: string, way: readonly string[], v: Viewer): boolean {
  let at = { table, ids: [id] };
  for (const hop of way)
    at = { table: of.field(hop).options.target!, ids: at.ids.flatMap((x) => [...linked(world.row(at.table, x)?.values[hop])]) };
  const owners = at.ids.filter((c) => world.row("t_companies", c));
  return owners.length > 0 && !owners.includes(v.company?.id ?? "");
}

it("adding has no record to count: a grant of it breaks what forbids it, and what forbids setting one of its fields", () => {
  const signs = schema.tableBySlug("signs")!;
  const code = signs.labelFieldId;
  const counts = { plan: () => 0, any: () => false };
  const grant: Grant = { id: "g", roles: ["lead"], table: signs.id, actions: ["add"], filter: null, fields: [], changes: [code] };
  const p = new Policy(schema, {
    roles: [{ id: "lead", name: "Lead", side: "client", includes: [] }],
    walls: { [signs.id]: { kind: "shared" } },
    grants: [grant],
  });
  const s = (claim: Claim): Safeguard => ({ id: "s", subject: { kind: "role", role: "lead" }, table: signs.id, claim });
  const lead = testViewer({ roles: ["lead"] });
  expect(breachOf(p, s({ kind: "nothing", action: "add" }), lead, counts)?.adds).toBe(true);
  expect(breachOf(p, s({ kind: "field", action: "change", field: code }), lead, counts)?.adds).toBe(true);
  expect(breachOf(p, s({ kind: "nothing", action: "add" }), testViewer({ roles: [] }), counts)).toBeNull();
});

it("what it speaks of may be gone: it says so", () => {
  const signs = schema.tableBySlug("signs")!;
  const p = new Policy(schema, { roles: [{ id: "crew", name: "Crew", side: "agency", includes: [] }], walls: {}, grants: [] });
  const gone = { person: () => false, company: () => false };
  const told = (s: Partial<Safeguard>): string[] =>
    safeguardProblems(
      { id: "s", subject: { kind: "side", side: "client" }, table: signs.id, claim: { kind: "nothing", action: "see" }, ...s },
      p,
      gone,
    );
  expect(told({})).toEqual([]);
  expect(told({ subject: { kind: "role", role: "lead" } })).toEqual(["It speaks of a role that is gone."]);
  expect(told({ subject: { kind: "company", company: "c9" } })).toEqual(["It speaks of a company that is gone."]);
  expect(told({ subject: { kind: "person", person: "p9", company: null } })).toEqual(["It speaks of a person who is gone."]);
  expect(told({ table: "t_gone" })).toEqual(["It speaks of a table that is gone."]);
  expect(told({ claim: { kind: "field", action: "see", field: "f_gone" } })).toEqual(["It speaks of a field that is gone."]);
  expect(told({ claim: { kind: "others", action: "see", way: ["f_gone"] } })).toEqual([
    "The relations that would lead to a company are gone.",
  ]);
  const way = waysToCompanies(schema, signs)[0]!;
  expect(told({ subject: { kind: "role", role: "crew" }, claim: { kind: "others", action: "see", way } })[0]).toContain("no company");
});
