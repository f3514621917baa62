/** Sums and groups that SQL works out are what adding up the listed records gives: for random policies, viewers and records. */

import fc from "fast-check";
import { expect, it } from "vitest";
import { Policy } from "@/core/access/policy";
import { isGrouped, isSummed } from "@/core/schema/fields/natures";
import { isLink, type SeenValue } from "@/core/schema/seen";
import { condition, policy, records, viewer } from "@/testing/arbitraries";
import { enough, runs, said, seed } from "@/testing/random";
import { fill, makeTestSchema, memoryPortal } from "@/testing/world";
import { firstOf, listRecords } from "../query/read";
import { grouped, measured, measuredOf } from "./measure";

const file = memoryPortal();
const { schema } = makeTestSchema(file);

const keyOf = (v: SeenValue | undefined): string | number | null => {
  if (v === undefined || v === null) return null;
  if (isLink(v)) return "withheld" in v ? null : v.id;
  return typeof v === "boolean" ? Number(v) : (v as string | number);
};

it(`agree on ${said(600)} random policies (seed ${seed})`, () => {
  let summed = 0;
  const asked = fc
    .constantFrom(...schema.tables)
    .chain((table) => fc.record({ table: fc.constant(table), c: fc.option(condition(schema, table)) }));
  fc.assert(
    fc.property(policy(schema), records(schema), viewer(schema), asked, (rules, recs, who, { table, c }) => {
      fill(file, schema, recs);
      const d = { file, policy: new Policy(schema, rules), viewer: who };
      const seen = listRecords(d, table.id, { condition: c, limit: 500 }).records;
      for (const f of table.fields.filter(isSummed)) {
        const values = seen.flatMap((r) => (typeof r.fields[f.id] === "number" ? [r.fields[f.id] as number] : []));
        const sum = values.reduce((a, b) => a + b, 0);
        expect(measured(d, table.id, { condition: c }, { measure: "sum", of: f.id })).toBeCloseTo(sum, 6);
        expect(measured(d, table.id, { condition: c }, { measure: "least", of: f.id })).toBe(
          values.length > 0 ? Math.min(...values) : null,
        );
        expect(measured(d, table.id, { condition: c }, { measure: "most", of: f.id })).toBe(values.length > 0 ? Math.max(...values) : null);
        const average = measured(d, table.id, { condition: c }, { measure: "average", of: f.id });
        if (values.length === 0) expect(average).toBeNull();
        else expect(average).toBeCloseTo(sum / values.length, 6);
        summed += values.length;
      }
      for (const by of table.fields.filter((f) => isGrouped(f) && f.type !== "date-time")) {
        const counts = new Map<string | number | null, number>();
        for (const r of seen) counts.set(keyOf(r.fields[by.id]), (counts.get(keyOf(r.fields[by.id])) ?? 0) + 1);
        const groups = grouped(d, table.id, { condition: c }, { field: by.id, step: "plain" }, { measure: "count", of: null });
        expect(new Map(groups.map((g) => [g.key, g.n]))).toEqual(counts);
      }
    }),
    { seed, numRuns: runs(600) },
  );
  expect(summed).toBeGreaterThan(enough(40));
}, 120_000);

it(`figures worked out together, and a list with its count, are what each is alone: ${said(400)} random policies (seed ${seed})`, () => {
  let counted = 0;
  const one = fc.constantFrom(...schema.tables).chain((table) =>
    fc.record({
      table: fc.constant(table.id),
      q: fc.option(condition(schema, table)).map((c) => ({ condition: c })),
      m: fc.constantFrom(
        { measure: "count" as const, of: null },
        ...table.fields.filter(isSummed).map((f) => ({ measure: "sum" as const, of: f.id })),
        ...table.fields.filter(isSummed).map((f) => ({ measure: "least" as const, of: f.id })),
      ),
    }),
  );
  fc.assert(
    fc.property(
      policy(schema),
      records(schema),
      viewer(schema),
      fc.array(one, { minLength: 2, maxLength: 6 }),
      fc.nat(4),
      (rules, recs, who, several, limit) => {
        fill(file, schema, recs);
        const alone = { file, policy: new Policy(schema, rules), viewer: who };
        // As a request has it: what is counted once is known to whatever counts it again.
        const d = { ...alone, counted: new Map<string, number>() };
        const each = several.map((a) => measured(alone, a.table, a.q, a.m));
        expect(measuredOf(d, several)).toEqual(each);
        expect(measuredOf(d, several)).toEqual(each);
        for (const { table, q } of several)
          for (const access of [alone, d]) {
            const first = firstOf(access, table, { ...q, limit });
            const all = listRecords(alone, table, { ...q, limit: 500 }).records;
            expect(first).toEqual({ records: all.slice(0, limit), total: all.length });
            counted += all.length;
          }
      },
    ),
    { seed, numRuns: runs(400) },
  );
  expect(counted).toBeGreaterThan(enough(1_000));
}, 120_000);
