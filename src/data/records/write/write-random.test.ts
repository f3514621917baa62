/** Writing by random policies: what is stored is what `decideChange` allows, whichever way it was stored, and nothing else. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { decide, decideChange } from "@/core/access/decide";
import { Policy } from "@/core/access/policy";
import { linked, type Row, type World } from "@/core/access/row";
import { ACTIONS } from "@/core/access/rules";
import type { Viewer } from "@/core/access/who/viewer";
import { explain } from "@/core/access/words/explain";
import { pointsToSeveral } from "@/core/schema/fields/natures";
import type { Value } from "@/core/schema/types";
import { idsOf, policy, type RandomPolicy, records, valueFor, viewer } from "@/testing/arbitraries";
import { enough, runs, said, seed } from "@/testing/random";
import { fill, makeTestSchema, memoryPortal } from "@/testing/world";
import { storeCompanies } from "../../tables/company";
import { readRow, worldOf } from "../../tables/rows";
import { changeWhereAllowed } from "./change-at-once";
import { automaticCompany, ownerCompany } from "./incoming";
import { changeRecord } from "./write";

const file = memoryPortal();
const { schema } = makeTestSchema(file);
const ordinary = schema.tables.filter((t) => t.kind === "ordinary");

/** Grants that also change, add and remove, each listing some of the fields it shows. */
const writing = fc.tuple(policy(schema), fc.infiniteStream(fc.nat(31))).map(
  ([p, bits]): RandomPolicy => ({
    ...p,
    grants: p.grants.map((g) => {
      const n = bits.next().value!;
      const actions = ACTIONS.filter((a, i) => a === "see" || n & (1 << i));
      return { ...g, roles: [...g.roles, "lead", "workshop"], actions, changes: g.fields.filter((_, i) => i % 4 !== n % 4) };
    }),
  }),
);
const change = fc.constantFrom(...ordinary).chain((t) =>
  fc.record({
    table: fc.constant(t),
    id: fc.constantFrom(...idsOf(t.id)),
    given: fc
      .subarray([...t.fields], { minLength: 1, maxLength: 2 })
      .chain((fs) => fc.record(Object.fromEntries(fs.map((f) => [f.id, valueFor(f)])))) as fc.Arbitrary<Record<string, Value>>,
  }),
);

/** Of a list of records that somebody gives anew, those in it that they neither see nor give stay: by the matcher alone. */
function unseenStay(p: Policy, who: Viewer, before: Row, given: Record<string, Value>, world: World): Record<string, string[]> {
  const sees = decide(p, who, "see", before.table, before, world);
  if (who.kind === "owner" || sees.outcome === "refused") return {};
  const shown = new Set(p.rules.grants.filter((g) => sees.grants.includes(g.id)).flatMap((g) => g.fields));
  const kept = Object.keys(given).flatMap((id): [string, string[]][] => {
    const f = schema.field(id);
    if (f.type !== "relations" || !shown.has(id)) return [];
    const hidden = linked(before.values[id]).filter((x) => {
      const row = world.row(f.options.target!, x);
      return !row || decide(p, who, "see", row.table, row, world).outcome === "refused";
    });
    const now = linked(given[id]);
    return [[id, hidden.filter((x) => !now.includes(x))]];
  });
  return Object.fromEntries(kept);
}

/** A relation to several is a set: it is read in the order of its ids, whatever the order in which they were given. */
const inOrder = (values: Row["values"]): object =>
  Object.fromEntries(Object.entries(values).map(([f, v]) => [f, pointsToSeveral(schema.field(f)) ? [...linked(v)].sort() : v]));

it(`changes by ${said(1500)} random policies (seed ${seed})`, () => {
  const met = { allowed: 0, refused: 0, atOnce: 0 };
  fc.assert(
    fc.property(writing, records(schema), viewer(schema), fc.array(change, { minLength: 1, maxLength: 6 }), (rules, recs, who, changes) => {
      fill(file, schema, recs);
      const world = worldOf(file, schema);
      const p = new Policy(schema, rules);
      for (const t of schema.tables) storeCompanies(file, p, t.id);
      for (const { table, id, given } of changes) {
        const before = readRow(file, schema, table, id)!;
        const own = automaticCompany(p, who, table.id);
        const named = Object.fromEntries(Object.entries(given).filter(([f]) => f !== own));
        const kept = unseenStay(p, who, before, named, world);
        const chosen = { ...named };
        for (const [f, ids] of Object.entries(kept)) if (ids.length > 0) chosen[f] = [...linked(named[f]), ...ids];
        const values = { ...before.values, ...chosen };
        const after: Row = { ...before, values, companyId: ownerCompany(p, table.id, id, values, world) };
        const want = decideChange(p, who, before, after, Object.keys(chosen), world, kept);
        file.db.exec("SAVEPOINT before");
        const did = changeRecord({ file, policy: p, viewer: who }, table.id, id, given, null);
        expect(did.ok).toBe(want.outcome === "allowed");
        const now = readRow(file, schema, table, id)!;
        expect(inOrder(now.values)).toEqual(inOrder(did.ok ? values : before.values));
        file.db.exec("ROLLBACK TO before; RELEASE before");
        met[want.outcome]++;
        file.db.exec("SAVEPOINT before");
        if (changeWhereAllowed({ file, policy: p, viewer: who }, table, id, chosen)) {
          expect(want.outcome).toBe("allowed");
          met.atOnce++;
        }
        file.db.exec("ROLLBACK TO before; RELEASE before");
      }
    }),
    { seed, numRuns: runs(1500) },
  );
  for (const n of Object.values(met)) expect(n).toBeGreaterThan(enough(100));
}, 120_000);

it(`what is explained of every action is what is decided, on ${said(500)} random policies (seed ${seed})`, () => {
  const allowed = Object.fromEntries(ACTIONS.map((a) => [a, 0]));
  fc.assert(
    fc.property(writing, records(schema), viewer(schema), (rules, recs, who) => {
      const world = fill(file, schema, recs);
      const p = new Policy(schema, rules);
      for (const t of schema.tables)
        for (const r of world.all(t.id))
          for (const a of ACTIONS) {
            const { outcome } = decide(p, who, a, t.id, r, world);
            expect([a, explain(p, who, a, t.id, r, world).outcome]).toEqual([a, outcome]);
            if (outcome === "allowed") allowed[a]!++;
          }
    }),
    { seed, numRuns: runs(500) },
  );
  for (const n of Object.values(allowed)) expect(n).toBeGreaterThan(enough(100));
}, 120_000);
