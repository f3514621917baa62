/** Seeded random records, conditions, policies and viewers for the differential test. Values are chosen to be awkward. */

import fc from "fast-check";
import type { Grant, Role, Wall } from "@/core/access/rules";
import type { Viewer } from "@/core/access/who/viewer";
import type { Condition, Operand } from "@/core/schema/condition";
import { isRelation } from "@/core/schema/fields/natures";
import { takesList, takesNoValue } from "@/core/schema/operators";
import { type Field, type FieldOf, kindOf, operatorsFor, type Schema, type Table, type Value } from "@/core/schema/types";
import { type TestRecord, testViewer } from "./world";

const TEXTS = [
  "a",
  "A",
  "É",
  "é",
  "e\u0301",
  "ß",
  "ẞ",
  "ss",
  "10",
  "9",
  "%",
  "_",
  "a_b",
  "O'Hare",
  '"q"',
  "😀",
  "\uffee",
  "K",
  "\u212a",
  " ",
  "aa",
  "Ab",
];
const IDS = { t_companies: ["c1", "c2", "c3"], t_people: ["p1", "p2", "p3"] } as Record<string, string[]>;

export const idsOf = (table: string): string[] => IDS[table] ?? [1, 2, 3, 4, 5].map((n) => `${table}-${n}`);

const sub = (xs: readonly string[]) => fc.subarray([...xs], { maxLength: Math.min(3, xs.length) });

const BY_LITERAL = {
  string: fc.constantFrom(...TEXTS),
  number: fc.constantFrom(-100, -1, 0, 5, 9, 10, 1000, 1e15),
  boolean: fc.boolean(),
};

export function valueFor(f: Field): fc.Arbitrary<Value> {
  const empty = { arbitrary: fc.constant(null), weight: 1 };
  const or = (arbitrary: fc.Arbitrary<Value>) => fc.oneof(empty, { arbitrary, weight: 4 });
  switch (f.type) {
    case "date-time":
      return or(
        fc.constantFrom("2026-06-14T23:00:00.000Z", "2026-06-15T00:00:00.000Z", "2026-06-15T12:00:00.000Z", "1999-12-31T23:59:59.999Z"),
      );
    case "date":
      return or(fc.constantFrom("2026-06-01", "2026-06-14", "2026-06-15", "2026-06-16", "1999-12-31"));
    case "choice":
      return or(fc.constantFrom(...f.options.choices.map((c) => c.id)));
    case "choices":
      return sub(f.options.choices.map((c) => c.id));
    case "files":
    case "pictures":
      return sub(["01a21700-0000-7000-8000-000000000001", "01a21700-0000-7000-8000-000000000002"]);
    case "relation":
      return or(fc.constantFrom(...idsOf(f.options.target)));
    case "relations":
      return sub(idsOf(f.options.target));
    default:
      return or(BY_LITERAL[kindOf(f).literal]);
  }
}

export function records(schema: Schema): fc.Arbitrary<TestRecord[]> {
  const one = (table: Table, id: string): fc.Arbitrary<TestRecord> =>
    fc.record({
      table: fc.constant(table.id),
      id: fc.constant(id),
      companyId: table.kind === "people" ? fc.constant(null) : fc.constantFrom("c1", "c2", null),
      values: fc.record(
        Object.fromEntries(table.fields.map((f) => [f.id, f.id === "f_person_email" ? fc.constant(`${id}@x.example`) : valueFor(f)])),
      ),
    });
  return fc
    .tuple(...schema.tables.flatMap((t) => idsOf(t.id).map((id) => one(t, id))))
    .map((list) => list.map((r) => (r.table === "t_companies" ? { ...r, companyId: r.id } : r)));
}

function operand(f: Field, list: boolean, schema: Schema): fc.Arbitrary<Operand> {
  const literal: fc.Arbitrary<Operand> = (list ? fc.array(single(f), { maxLength: 3 }) : single(f)).map(
    (value) => ({ kind: "literal", value }) as Operand,
  );
  const options: fc.Arbitrary<Operand>[] = [literal, literal];
  if (f.options.target === "t_companies") options.push(fc.constant({ kind: "viewer", of: "company", field: null }));
  if (f.options.target === "t_people") options.push(fc.constant({ kind: "viewer", of: "person", field: null }));
  if (f.type === "date")
    options.push(
      fc.record({
        kind: fc.constant("date" as const),
        anchor: fc.constantFrom("today" as const, "start of month" as const),
        days: fc.integer({ min: -2, max: 2 }),
      }),
    );
  if (f.type === "date-time")
    options.push(
      fc.record({
        kind: fc.constant("date" as const),
        anchor: fc.constantFrom("today" as const, "now" as const),
        days: fc.integer({ min: -2, max: 2 }),
        instant: fc.constant(true as const),
      }),
    );
  if (f.type === "text") options.push(fc.constant({ kind: "viewer", of: "person", field: "f_person_name" }));
  if (f.type === "relation" && f.options.target === schema.tableBySlug("sites")?.id)
    options.push(fc.constant({ kind: "viewer", of: "person", field: "their_sites" }));
  return fc.oneof(...options);
}

const single = (f: Field): fc.Arbitrary<string | number | boolean> => {
  if (isRelation(f)) return fc.constantFrom(...idsOf(f.options.target));
  if (f.type === "choices") return fc.constantFrom(...f.options.choices.map((c) => c.id));
  return valueFor(f).filter((v) => v !== null) as fc.Arbitrary<string | number | boolean>;
};

function path(schema: Schema, table: Table, hops: number): fc.Arbitrary<Field[]> {
  const here = fc.constantFrom(...table.fields).map((f) => [f]);
  const onward = table.fields.filter(isRelation);
  if (hops === 0 || onward.length === 0) return here;
  const further = fc
    .constantFrom(...onward)
    .chain((f) => path(schema, schema.table(f.options.target), hops - 1).map((rest) => [f, ...rest]));
  return fc.oneof({ arbitrary: here, weight: 2 }, { arbitrary: further, weight: 1 });
}

function test(schema: Schema, table: Table): fc.Arbitrary<Condition> {
  return path(schema, table, 3).chain((fields) => {
    const f = fields[fields.length - 1]!;
    return fc.constantFrom(...operatorsFor(f.type)).chain((operator) => {
      const n = takesNoValue(operator) ? 0 : operator === "between" ? 2 : 1;
      return fc
        .array(operand(f, takesList(operator), schema), { minLength: n, maxLength: n })
        .map((operands): Condition => ({ kind: "test", path: fields.map((x) => x.id), operator, operands }));
    });
  });
}

export function condition(schema: Schema, table: Table, depth = 2): fc.Arbitrary<Condition> {
  if (depth === 0) return test(schema, table);
  const inner = condition(schema, table, depth - 1);
  const many = fc.array(inner, { maxLength: 3 });
  return fc.oneof(
    { arbitrary: test(schema, table), weight: 3 },
    { arbitrary: many.map((of): Condition => ({ kind: "all", of })), weight: 1 },
    { arbitrary: many.map((of): Condition => ({ kind: "any", of })), weight: 1 },
    { arbitrary: inner.map((of): Condition => ({ kind: "not", of })), weight: 1 },
  );
}

/** The relation to companies, or the one through another table. */
export function wayToCompany(schema: Schema, t: Table): string[] {
  const direct = t.fields.find((f) => f.type === "relation" && f.options.target === schema.companies.id);
  if (direct) return [direct.id];
  const hop = t.fields.find((f): f is FieldOf<"relation"> => f.type === "relation")!;
  return [hop.id, ...wayToCompany(schema, schema.table(hop.options.target))];
}

const ROLES = ["lead", "manager", "onlooker", "workshop", "public"];

export interface RandomPolicy {
  roles: Role[];
  walls: Record<string, Wall>;
  grants: Grant[];
}

export function policy(schema: Schema): fc.Arbitrary<RandomPolicy> {
  const wall = (t: Table): fc.Arbitrary<Wall> => {
    if (t.kind === "people") return fc.constantFrom<Wall>({ kind: "owned", path: ["f_person_companies"] }, { kind: "agency-only" });
    if (t.kind === "companies") return fc.constant<Wall>({ kind: "owned", path: [] });
    return fc.oneof(
      { arbitrary: fc.constant<Wall>({ kind: "owned", path: wayToCompany(schema, t) }), weight: 5 },
      fc.constantFrom<Wall>({ kind: "shared" }, { kind: "shared" }, { kind: "agency-only" }),
    );
  };
  const grant = fc.constantFrom(...schema.tables).chain((t) =>
    fc.record({
      id: fc.uuid(),
      roles: fc.subarray(ROLES, { minLength: 1, maxLength: 2 }),
      table: fc.constant(t.id),
      actions: fc.constant(["see", "export"] as const),
      filter: fc.option(condition(schema, t), { freq: 2 }),
      fields: fc.oneof(fc.constant(t.fields.map((f) => f.id)), fc.subarray(t.fields.map((f) => f.id))),
      changes: fc.constant([]),
      feature: fc.constantFrom(null, null, null, "reports"),
    }),
  );
  return fc.record({
    roles: fc.constantFrom<Role[]>(
      ...[[], ["onlooker"], ["manager", "onlooker"]].map((includes): Role[] => [
        { id: "lead", name: "Lead", side: "client", includes },
        { id: "manager", name: "Manager", side: "client", includes: ["onlooker"] },
        { id: "onlooker", name: "Onlooker", side: "client", includes: [] },
        { id: "workshop", name: "Workshop", side: "agency", includes: [] },
        { id: "public", name: "Public", side: "visitor", includes: [] },
      ]),
    ),
    walls: fc.tuple(...schema.tables.map(wall)).map((walls) => Object.fromEntries(walls.map((w, i) => [schema.tables[i]!.id, w]))),
    grants: fc.array(grant, { minLength: 6, maxLength: 16 }),
  });
}

export function viewer(schema: Schema): fc.Arbitrary<Viewer> {
  const sites = schema.tableBySlug("sites")!.id;
  const person = fc.record({
    name: fc.constantFrom("É", "a", null),
    sites: fc.subarray(idsOf(sites)),
    roles: fc.subarray(["lead", "manager", "onlooker", "workshop"], { minLength: 2 }),
    company: fc.constantFrom("c1", "c2", "c1", null),
    features: fc.constantFrom([], ["reports"]),
    status: fc.constantFrom("active" as const, "active" as const, "active" as const, "inactive" as const),
  });
  const signedIn = person.map((p) =>
    testViewer({
      person: { id: "p1", name: p.name ?? "", status: p.status, values: { f_person_name: p.name, their_sites: p.sites } },
      company: p.company ? { id: p.company, name: p.company, values: {} } : null,
      roles: p.roles,
      features: new Set(p.features),
    }),
  );
  return fc.oneof(
    { arbitrary: signedIn, weight: 9 },
    { arbitrary: fc.constant(testViewer({ kind: "visitor", person: null, company: null, membershipId: null })), weight: 1 },
  );
}
