/**
 * The heart's main test: for random policies, records and viewers, what SQL returns is what the matcher passes is what the
 * explanation says. Two further oracles: fields per row, and filters on hidden values (evaluated on a world in which
 * everything hidden has been taken out beforehand).
 */
import fc from "fast-check";
import { expect, it } from "vitest";
import { decide, fields } from "@/core/access/decide";
import { match } from "@/core/access/match";
import { Policy } from "@/core/access/policy";
import { resolve } from "@/core/access/resolve";
import { linked, type Row, type World } from "@/core/access/row";
import { scope } from "@/core/access/scope";
import type { Viewer } from "@/core/access/who/viewer";
import { explain } from "@/core/access/words/explain";
import type { Value } from "@/core/schema/types";
import { condition, policy, records, viewer } from "@/testing/arbitraries";
import { enough, runs, said, seed } from "@/testing/random";
import { fill, makeTestSchema, memoryPortal } from "@/testing/world";
import { countRecords } from "../counting/count";
import { listRecords, readRecord } from "./read";

const file = memoryPortal();
const { schema } = makeTestSchema(file);

it(`SQL, matcher and explanation agree on ${said(2500)} random policies, two or three viewers each (seed ${seed}; set ELKHORN_SEED to repeat)`, () => {
  let seen = 0;
  fc.assert(
    // Several viewers share a policy: what is kept for one must not answer another.
    fc.property(policy(schema), records(schema), fc.array(viewer(schema), { minLength: 2, maxLength: 3 }), (rules, recs, viewers) => {
      const world = fill(file, schema, recs);
      const p = new Policy(schema, rules);
      for (const [who, table] of viewers.flatMap((v) => schema.tables.map((t) => [v, t] as const))) {
        const s = scope(p, who, table.id);
        const matched = world
          .all(table.id)
          .filter((r) => match(s.predicate, r, world, schema))
          .map((r) => r.id);
        const explained = world
          .all(table.id)
          .filter((r) => explain(p, who, "see", table.id, r, world).outcome === "allowed")
          .map((r) => r.id);
        const decided = world
          .all(table.id)
          .filter((r) => decide(p, who, "see", table.id, r, world).outcome === "allowed")
          .map((r) => r.id);
        const page = listRecords({ file, policy: p, viewer: who }, table.id, { limit: 100 });
        const listed = page.records.map((r) => r.id).sort();
        expect(listed).toEqual([...matched].sort());
        expect(explained).toEqual(matched);
        expect(decided).toEqual(matched);
        expect(countRecords({ file, policy: p, viewer: who }, table.id)).toBe(matched.length);
        seen += matched.length;
        for (const r of world.all(table.id)) {
          const one = readRecord({ file, policy: p, viewer: who }, table.id, r.id);
          expect(one !== undefined).toBe(matched.includes(r.id));
          if (one) expect(Object.keys(one.fields).sort()).toEqual(fields(p, who, "see", r, world).sort());
          if (one) expect(page.records.find((x) => x.id === r.id)).toEqual(one);
        }
      }
    }),
    { seed, numRuns: runs(2500) },
  );
  // The generator must not make policies that show nothing: that would agree trivially.
  expect(seen).toBeGreaterThan(enough(3_000));
}, 240_000);

/** The world as the viewer sees it: hidden rows gone, hidden fields and links to hidden rows empty. */
function maskedWorld(p: Policy, who: Viewer, world: World & { all(table: string): Row[] }): World & { all(table: string): Row[] } {
  const visible = (table: string, id: string): Row | undefined => {
    const r = world.row(table, id);
    return r && decide(p, who, "see", table, r, world).outcome === "allowed" ? r : undefined;
  };
  const mask = (r: Row): Row => {
    const shown = new Set(fields(p, who, "see", r, world));
    const values = Object.fromEntries(
      schema.table(r.table).fields.map((f): [string, Value] => {
        if (!shown.has(f.id)) return [f.id, null];
        const v = r.values[f.id] ?? null;
        if (!f.options.target) return [f.id, v];
        const there = linked(v).filter((id) => visible(f.options.target!, id));
        return [f.id, f.type === "relations" ? there : (there[0] ?? null)];
      }),
    );
    return { ...r, values };
  };
  return {
    row: (table, id) => {
      const r = visible(table, id);
      return r && mask(r);
    },
    all: (table) => world.all(table).flatMap((r) => (visible(table, r.id) ? [mask(r)] : [])),
  };
}

it(`a viewer's own filters and sorts depend on nothing hidden (seed ${seed})`, () => {
  const tables = schema.tables.filter((t) => t.kind === "ordinary");
  const cases = fc
    .constantFrom(...tables)
    .chain((t) => fc.tuple(fc.constant(t), condition(schema, t), fc.constantFrom(...t.fields), fc.boolean()));
  let found = 0;
  fc.assert(
    fc.property(policy(schema), records(schema), viewer(schema), cases, (rules, recs, who, [table, asked, by, descending]) => {
      const world = fill(file, schema, recs);
      const p = new Policy(schema, rules);
      const masked = maskedWorld(p, who, world);
      const wanted = masked
        .all(table.id)
        .filter((r) => match(resolve(asked, who), r, masked, schema))
        .map((r) => r.id)
        .sort();
      const page = listRecords({ file, policy: p, viewer: who }, table.id, { condition: asked, limit: 100 });
      expect(page.records.map((r) => r.id).sort()).toEqual(wanted);
      expect(countRecords({ file, policy: p, viewer: who }, table.id, { condition: asked })).toBe(wanted.length);
      found += wanted.length;
      if (by.type === "relations") return;
      // Order depends only on what is seen: two worlds that look alike to the viewer list alike, page by page.
      const sort = [{ field: by.id, descending }];
      const whole = listRecords({ file, policy: p, viewer: who }, table.id, { sort, limit: 100 }).records.map((r) => r.id);
      const paged: string[] = [];
      for (let after: readonly (string | number | null)[] | undefined; ; ) {
        const part = listRecords({ file, policy: p, viewer: who }, table.id, { sort, limit: 2, ...(after ? { after } : {}) });
        paged.push(...part.records.map((r) => r.id));
        const next = part.next();
        if (!next) break;
        after = next;
      }
      expect(paged).toEqual(whole);
      fill(
        file,
        schema,
        recs.map((r) => ({ ...r, values: { ...r.values, ...blanked(p, who, r, world) } })),
      );
      expect(listRecords({ file, policy: p, viewer: who }, table.id, { sort, limit: 100 }).records.map((r) => r.id)).toEqual(whole);
    }),
    { seed, numRuns: runs(600) },
  );
  expect(found).toBeGreaterThan(enough(100));
}, 240_000);

/** Hidden fields that no grant's filter reads, emptied. (Those that a filter reads decide the rows themselves.) */
function blanked(p: Policy, who: Viewer, r: Row, world: World): Record<string, null> {
  const tested = new Set(JSON.stringify(p.rules.grants.map((g) => g.filter)).match(/f_\w+/g) ?? []);
  const shown = new Set(fields(p, who, "see", r, world));
  const hidden = schema
    .table(r.table)
    .fields.filter((f) => !shown.has(f.id) && !tested.has(f.id) && !f.system && !Array.isArray(r.values[f.id]));
  return Object.fromEntries(hidden.map((f) => [f.id, null]));
}
