/**
 * Noninterference (Goguen and Meseguer, "Security Policies and Security Models", IEEE S&P 1982): two worlds that differ only in
 * what is hidden from a viewer answer every question of that viewer alike. Each way of reading that the product has is asked:
 * lists and their order, search, filters, counts, going on from a page, single records, downloads, related records, choices
 * in forms, sums, groups, charts, figures. What else comes to be read joins `answers` when it is made.
 */

import fc from "fast-check";
import { expect, it } from "vitest";
import { decide, fields } from "@/core/access/decide";
import { Policy } from "@/core/access/policy";
import { linked, type Row, type World } from "@/core/access/row";
import type { Viewer } from "@/core/access/who/viewer";
import { EVERYBODY, type SectionOf } from "@/core/pages/page";
import type { Condition } from "@/core/schema/condition";
import { isGrouped, isRelation, isSummed } from "@/core/schema/fields/natures";
import type { Table, Value } from "@/core/schema/types";
import { sourceOf } from "@/core/sections/kind";
import { PLAIN_LIST } from "@/core/sections/list";
import { MEASURES } from "@/core/sections/measure";
import { emptyDefinition } from "@/data/installation/portals";
import { chooseRecords, namedRecords } from "@/data/records/choose";
import { countRecords } from "@/data/records/counting/count";
import { grouped, measured } from "@/data/records/counting/measure";
import { formFields } from "@/data/records/form";
import { listRecords, readRecord } from "@/data/records/query/read";
import { condition, idsOf, policy, records, valueFor, viewer } from "@/testing/arbitraries";
import { enough, runs, said, seed } from "@/testing/random";
import { fill, makeTestSchema, memoryPortal, type TestRecord } from "@/testing/world";
import { openTables } from "./queries";
import { chartView } from "./sections/chart/load";
import { listView } from "./sections/list/load";
import { portalRequest } from "./testing";

const file = memoryPortal();
const { schema } = makeTestSchema(file);
type Whole = World & { all(table: string): Row[] };

interface Asked {
  readonly table: Table;
  readonly condition: Condition;
  readonly words: string;
  readonly by: string;
  readonly descending: boolean;
}

const PLAIN = { source: { filter: null, sort: [] }, settings: PLAIN_LIST, key: "" };
const COUNT = { measure: "count", of: null } as const;
const numbers = (t: Table) => t.fields.filter(isSummed);
const pointingHere = (r: ReturnType<typeof portalRequest>, table: Table): [Table, string][] =>
  openTables(r).flatMap((other) =>
    other.fields
      .filter((f) => isRelation(f) && f.options.target === table.id && r.desk.knows(other, f))
      .map((f): [Table, string] => [other, f.id]),
  );
/** A chart by each field that makes groups, of how many and of each number. */
const charts = (table: Table): SectionOf<"chart">[] =>
  table.fields.filter(isGrouped).flatMap((by) =>
    [null, ...numbers(table).map((f) => f.id)].map((of) => ({
      id: "s",
      page: "p",
      place: "a0",
      title: "",
      width: 12,
      breaks: false,
      audience: EVERYBODY,
      record: null,
      reader: null,
      kind: "chart" as const,
      config: {
        source: sourceOf(table.id),
        shape: "bars" as const,
        by: by.id,
        measure: of === null ? ("count" as const) : ("sum" as const),
        of,
      },
    })),
  );

/** Everything that the viewer can learn in one world, as data. */
function answers(p: Policy, who: Viewer, asked: readonly Asked[]): unknown {
  const definition = { ...emptyDefinition("Test"), ...p.rules } as never;
  const r = portalRequest(file, who, "/", { version: 1, definition, policy: p });
  const tables = openTables(r);
  return [
    tables.map((t) => t.id),
    asked.map((a) => {
      const sort = [{ field: a.by, descending: a.descending }];
      const id = a.table.id;
      const first = listRecords({ file, policy: p, viewer: who }, id, { sort, limit: 2 });
      const next = first.next();
      return [
        [first.records, next, next && listRecords({ file, policy: p, viewer: who }, id, { sort, limit: 2, after: next }).records],
        countRecords({ file, policy: p, viewer: who }, id),
        listRecords({ file, policy: p, viewer: who }, id, { condition: a.condition, sort, limit: 50 }).records.map((x) => x.id),
        countRecords({ file, policy: p, viewer: who }, id, { condition: a.condition }),
        listRecords({ file, policy: p, viewer: who }, id, { search: a.words, limit: 50 }).records.map((x) => x.id),
        countRecords({ file, policy: p, viewer: who }, id, { search: a.words }),
        listRecords({ file, policy: p, viewer: who }, id, { sort, limit: 50, forExport: true }).records,
        countRecords({ file, policy: p, viewer: who }, id, { forExport: true }),
        idsOf(id).map((x) => readRecord({ file, policy: p, viewer: who }, id, x)),
        tables.includes(a.table) && listView(r, a.table, { q: a.words, sort: a.table.fields.find((f) => f.id === a.by)!.slug }),
        pointingHere(r, a.table).map(([other, field]) =>
          idsOf(id).map((x) => listView(r, other, {}, { ...PLAIN, settings: { ...PLAIN_LIST, size: 5 }, through: { field, id: x } })),
        ),
        // Sums, groups, charts, boards' counts, calendars' days: whatever is worked out over records.
        charts(a.table).map((s) => chartView(r, s)),
        numbers(a.table).flatMap((of) =>
          MEASURES.map((measure) => r.desk.knows(a.table, of) && measured(r.desk, id, { condition: a.condition }, { measure, of: of.id })),
        ),
        a.table.fields.filter((f) => f.type === "date").map((f) => grouped(r.desk, id, {}, { field: f.id, step: "plain" }, COUNT)),
        listView(
          r,
          a.table,
          {},
          { ...PLAIN, source: { filter: a.condition, sort: [] }, settings: { ...PLAIN_LIST, sums: numbers(a.table).map((f) => f.id) } },
        ),
        tables.includes(a.table) && [...r.desk.whereMay(a.table, "see", idsOf(id))],
        formFields(r.desk, r.desk.settable(a.table, "add"), null),
        chooseRecords(r.desk, a.table, a.words),
        namedRecords(r.desk, a.table, idsOf(id)),
      ];
    }),
  ];
}

/** What of a world the viewer is meant to know, by the matcher alone. */
function shown(p: Policy, who: Viewer, world: Whole): unknown {
  const visible = (table: string, id: string): Row | undefined => {
    const r = world.row(table, id);
    return r && decide(p, who, "see", table, r, world).outcome === "allowed" ? r : undefined;
  };
  return schema.tables.map((t) =>
    world.all(t.id).flatMap((r) => {
      if (!visible(t.id, r.id)) return [];
      const values = fields(p, who, "see", r, world).map((f) => {
        const { target } = schema.field(f).options;
        const v = r.values[f] ?? null;
        if (!target) return [f, v];
        const there = linked(v).filter((id) => visible(target, id));
        return [f, there, linked(v).length > there.length];
      });
      const exported = decide(p, who, "export", t.id, r, world).outcome === "allowed" ? fields(p, who, "export", r, world) : null;
      return [[r.id, values, exported]];
    }),
  );
}

interface Mutation {
  readonly table: Table;
  readonly at: number;
  readonly values: Record<string, Value>;
  readonly company: string | null;
}
const mutation = fc.constantFrom(...schema.tables).chain((table) =>
  fc.record({
    table: fc.constant(table),
    at: fc.nat(idsOf(table.id).length - 1),
    values: fc.record(Object.fromEntries(table.fields.filter((f) => !f.system).map((f) => [f.id, valueFor(f)]))),
    company: fc.constantFrom("c1", "c2", null),
  }),
);
const asked = fc.constantFrom(...schema.tables).chain((table) =>
  fc.record({
    table: fc.constant(table),
    condition: condition(schema, table),
    words: fc.constantFrom("a", "é", "1", "do", "sign"),
    by: fc.constantFrom(...table.fields.filter((f) => f.type !== "relations").map((f) => f.id)),
    descending: fc.boolean(),
  }),
);

/** Hidden rows are written over; of rows that are seen, the fields that are not. */
function hiddenChanged(p: Policy, who: Viewer, world: Whole, recs: readonly TestRecord[], changes: readonly Mutation[]): TestRecord[] {
  return recs.map((r) => {
    const m = changes.find((x) => x.table.id === r.table && idsOf(r.table)[x.at] === r.id);
    if (!m) return r;
    const row = world.row(r.table, r.id)!;
    const own = r.table === "t_companies" ? r.companyId : m.company;
    if (decide(p, who, "see", r.table, row, world).outcome === "refused")
      return { ...r, companyId: own, values: { ...r.values, ...m.values } };
    const seen = new Set(fields(p, who, "see", row, world));
    return { ...r, values: { ...r.values, ...Object.fromEntries(Object.entries(m.values).filter(([f]) => !seen.has(f))) } };
  });
}

it(`what is hidden changes no answer, in ${said(500)} pairs of worlds (seed ${seed})`, () => {
  let differing = 0;
  fc.assert(
    fc.property(
      policy(schema),
      records(schema),
      viewer(schema),
      fc.array(mutation, { minLength: 2, maxLength: 8 }),
      fc.array(asked, { minLength: 3, maxLength: 5 }),
      (rules, recs, who, changes, questions) => {
        const p = new Policy(schema, {
          ...rules,
          grants: rules.grants.map((g) => ({ ...g, actions: ["see", "add", "export"], changes: g.fields })),
        });
        const one = fill(file, schema, recs);
        const other = hiddenChanged(p, who, one, recs, changes);
        const before = JSON.stringify(shown(p, who, one));
        const told = JSON.stringify(answers(p, who, questions));
        const world = fill(file, schema, other);
        // Where a grant's filter reads what is hidden, the change may open or close a record: then the worlds are not alike.
        if (JSON.stringify(shown(p, who, world)) !== before) return;
        if (JSON.stringify(other) !== JSON.stringify(recs)) differing++;
        expect(JSON.stringify(answers(p, who, questions))).toBe(told);
      },
    ),
    { seed, numRuns: runs(500) },
  );
  expect(differing).toBeGreaterThan(enough(250));
}, 120_000);
