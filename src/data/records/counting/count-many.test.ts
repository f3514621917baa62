/** Counting for many viewers at once gives, for each, what counting for that viewer alone gives. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { type CountPlan, countPlan, differencePlan, hiddenFields } from "@/core/access/counting";
import { decide, fields } from "@/core/access/decide";
import { draftPolicy, Policy } from "@/core/access/policy";
import type { Predicate } from "@/core/access/predicate";
import { linked } from "@/core/access/row";
import type { Action, Grant } from "@/core/access/rules";
import { shiftOf } from "@/core/review/impact";
import type { Condition } from "@/core/schema/condition";
import { waysToCompanies } from "@/core/schema/ways";
import { condition, idsOf, policy, type RandomPolicy, records, viewer } from "@/testing/arbitraries";
import { enough, runs, said, seed } from "@/testing/random";
import { fill, makeTestSchema, memoryPortal, testViewer } from "@/testing/world";
import { storeCompanies } from "../../tables/company";
import { worldOf } from "../../tables/rows";
import { countWhere, ManyCounter } from "./count-many";

const file = memoryPortal();
const { schema } = makeTestSchema(file);
const owner = testViewer({ kind: "owner" }) as never;
const signs = schema.tableBySlug("signs")!;
const site = signs.fields.find((f) => f.slug === "site")!.id;

/** Grants that compare a sign's site with the viewer's own, as site managers have them, beside whatever else. */
const keyed = fc
  .record({
    rest: fc.option(condition(schema, signs, 0), { nil: null }),
    roles: fc.subarray(["lead", "manager"], { minLength: 1 }),
    actions: fc.subarray(["see", "change"] as Action[], { minLength: 1 }),
    id: fc.uuid(),
  })
  .map((k): Grant => {
    const mine: Condition = {
      kind: "test",
      path: [site],
      operator: "any-of",
      operands: [{ kind: "viewer", of: "person", field: "their_sites" }],
    };
    const filter: Condition = k.rest ? { kind: "all", of: [mine, k.rest] } : mine;
    return { id: k.id, roles: k.roles, actions: k.actions, table: signs.id, filter, fields: [site], changes: [] };
  });
const withKeyed = fc.tuple(policy(schema), fc.array(keyed, { maxLength: 3 })).map(
  ([p, grants]): RandomPolicy => ({
    ...p,
    grants: [...p.grants.map((g) => ({ ...g, actions: g.id < "8" ? (["see", "change"] as const) : g.actions })), ...grants],
  }),
);
const viewers = fc.array(viewer(schema), { minLength: 2, maxLength: 4 });

it(`what many see and change, on ${said(700)} random policies (seed ${seed})`, () => {
  const met = { grouped: 0, keyed: 0, alone: 0, none: 0 };
  fc.assert(
    fc.property(withKeyed, records(schema), viewers, (rules, recs, who) => {
      const world = fill(file, schema, recs);
      const p = new Policy(schema, rules);
      const counter = new ManyCounter(file, schema, owner);
      for (const v of who)
        for (const table of schema.tables)
          for (const actions of [["see"], ["see", "change"]] as Action[][]) {
            const plan = countPlan(p, v, table.id, actions);
            met[plan.kind === "grouped" && plan.keyed ? "keyed" : plan.kind]++;
            const may = world.all(table.id).filter((r) => actions.every((a) => decide(p, v, a, table.id, r, world).outcome === "allowed"));
            expect(counter.count(table.id, plan)).toBe(may.length);
          }
    }),
    { seed, numRuns: runs(700) },
  );
  for (const n of Object.values(met)) expect(n).toBeGreaterThan(enough(50));
}, 120_000);

it(`what a change of rules gives and takes, on ${said(700)} random pairs of policies (seed ${seed})`, () => {
  let differing = 0;
  const pair = withKeyed.chain((a) =>
    fc.oneof(
      fc.constant(a).chain((x) => withKeyed.map((b) => [x, b] as const)),
      // Mostly a small change, as drafts are: one grant less, or the walls of another.
      fc.nat(a.grants.length - 1).map((i) => [a, { ...a, grants: a.grants.filter((_, j) => j !== i) }] as const),
      withKeyed.map((b) => [a, { ...a, walls: b.walls }] as const),
    ),
  );
  fc.assert(
    fc.property(pair, records(schema), viewers, ([one, other], recs, who) => {
      const world = fill(file, schema, recs);
      const [a, b] = [new Policy(schema, one), new Policy(schema, other)];
      const counter = new ManyCounter(file, schema, owner);
      for (const v of who)
        for (const table of schema.tables) {
          const sees = (p: Policy, id: string): boolean =>
            decide(p, v, "see", table.id, world.row(table.id, id)!, world).outcome === "allowed";
          const gained = idsOf(table.id).filter((id) => sees(a, id) && !sees(b, id));
          expect(counter.count(table.id, differencePlan(a, b, v, table.id))).toBe(gained.length);
          differing += gained.length;
        }
    }),
    { seed, numRuns: runs(700) },
  );
  expect(differing).toBeGreaterThan(enough(500));
}, 120_000);

it(`what would be seen across companies, on ${said(400)} random changes of walls (seed ${seed})`, () => {
  let crossings = 0;
  fc.assert(
    fc.property(withKeyed, policy(schema), records(schema), viewers, (rules, other, recs, who) => {
      const world = fill(file, schema, recs);
      const before = new Policy(schema, rules);
      const after = draftPolicy(before, { ...rules, walls: other.walls });
      for (const t of schema.tables) storeCompanies(file, before, t.id);
      const rows = worldOf(file, schema);
      const [gained, lost] = [new ManyCounter(file, schema, owner), new ManyCounter(file, schema, owner)];
      const counts = {
        gained: (t: string, plan: CountPlan) => gained.count(t, plan),
        lost: (t: string, plan: CountPlan) => lost.count(t, plan),
        where: (t: string, p: Predicate) => countWhere(file, schema, t, p),
      };
      for (const v of who)
        for (const table of schema.tables) {
          const wall = before.wall(table.id);
          const path = wall.kind === "owned" ? wall.path : waysToCompanies(schema, table)[0]!;
          const owners = (id: string): string[] =>
            path
              .reduce<{ table: string; ids: string[] }>(
                (at, hop) => ({
                  table: schema.field(hop).options.target!,
                  ids: at.ids.flatMap((x) => [...linked(rows.row(at.table, x)?.values[hop])]),
                }),
                { table: table.id, ids: [id] },
              )
              .ids.filter((c) => rows.row("t_companies", c));
          const sees = (p: Policy, id: string): boolean =>
            decide(p, v, "see", table.id, rows.row(table.id, id)!, rows).outcome === "allowed";
          const client = v.kind === "visitor" || !!v.company;
          const crossing = world.all(table.id).filter(({ id }) => {
            const of = owners(id);
            return client && of.length > 0 && !of.includes(v.company?.id ?? "") && sees(after, id) && !sees(before, id);
          });
          expect(shiftOf(before, after, v, v, table.id, counts)?.crossing ?? 0).toBe(crossing.length);
          crossings += crossing.length;
        }
    }),
    { seed, numRuns: runs(400) },
  );
  expect(crossings).toBeGreaterThan(enough(100));
}, 120_000);

it(`hidden fields are those no record shows, and partly hidden those that only some may show (seed ${seed})`, () => {
  fc.assert(
    fc.property(policy(schema), records(schema), viewer(schema), (rules, recs, v) => {
      const world = fill(file, schema, recs);
      const p = new Policy(schema, rules);
      for (const table of schema.tables) {
        const hidden = hiddenFields(p, v, table.id);
        for (const r of world.all(table.id)) {
          if (decide(p, v, "see", table.id, r, world).outcome === "refused") continue;
          const shown = fields(p, v, "see", r, world);
          for (const f of table.fields) {
            if (hidden.never.includes(f.id)) expect(shown).not.toContain(f.id);
            else if (!hidden.partly.includes(f.id)) expect(shown).toContain(f.id);
          }
        }
      }
    }),
    { seed, numRuns: runs(300) },
  );
});
