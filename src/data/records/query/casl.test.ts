/**
 * A general-purpose authorization library from the registry, where its conditions can express the policy: grants become
 * `can`, the wall becomes `cannot`. Text is folded before either side sees it, since the library compares exactly.
 */
import { createMongoAbility, type MongoQuery, subject } from "@casl/ability";
import fc from "fast-check";
import { expect, it } from "vitest";
import { Policy } from "@/core/access/policy";
import type { Test } from "@/core/schema/condition";
import type { Operator } from "@/core/schema/operators";
import type { Field, Scalar } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { records, valueFor, wayToCompany } from "@/testing/arbitraries";
import { enough, runs, said, seed } from "@/testing/random";
import { fill, makeTestSchema, memoryPortal, testViewer } from "@/testing/world";
import { listRecords } from "./read";

const file = memoryPortal();
const { schema, t } = makeTestSchema(file);
const signs = schema.table(t.signs);

const folded = (f: Field, v: Scalar): Scalar => (f.type === "text" ? fold(String(v)) : v);
const EXPRESSIBLE: Partial<Record<Operator, (f: Field, w: Scalar[]) => object>> = {
  is: (f, [w]) => ({ $eq: folded(f, w!) }),
  "is-not": (f, [w]) => ({ $ne: folded(f, w!) }),
  "any-of": (f, w) => ({ $in: w.map((x) => folded(f, x)) }),
  "none-of": (f, w) => ({ $nin: w.map((x) => folded(f, x)) }),
  // The library takes null for less than anything: emptiness is excluded beside.
  "less-than": (_, [w]) => ({ $lt: w, $ne: null }),
  "at-most": (_, [w]) => ({ $lte: w, $ne: null }),
  "more-than": (_, [w]) => ({ $gt: w, $ne: null }),
  "at-least": (_, [w]) => ({ $gte: w, $ne: null }),
  "is-empty": () => ({ $eq: null }),
  "is-not-empty": () => ({ $ne: null }),
};

const OPERATORS: Partial<Record<Field["type"], Operator[]>> = {
  text: ["is", "is-not", "any-of", "none-of", "is-empty", "is-not-empty"],
  choice: ["is", "is-not", "any-of", "is-empty"],
  relation: ["is", "is-not", "any-of", "none-of", "is-empty"],
  number: ["is", "less-than", "at-most", "more-than", "at-least", "is-not"],
  money: ["is", "less-than", "at-least"],
  date: ["is", "less-than", "more-than", "is-empty"],
  "yes-no": ["is"],
};

const test = fc.constantFrom(...signs.fields.filter((f) => OPERATORS[f.type])).chain((f) =>
  fc.constantFrom(...OPERATORS[f.type]!).chain((operator) => {
    const n = operator.endsWith("empty") ? 0 : operator.endsWith("of") ? 2 : 1;
    const value = valueFor(f).filter((v) => v !== null) as fc.Arbitrary<Scalar>;
    return fc.array(value, { minLength: n, maxLength: n }).map((values) => ({ f, operator, values }));
  }),
);
// One test a field in a grant: the library's conditions are one object a field.
const grant = fc.uniqueArray(test, { maxLength: 3, selector: (x) => x.f.id });

it(`the same records are seen as @casl/ability lets through, on ${said(1000)} policies (seed ${seed})`, () => {
  let seen = 0;
  fc.assert(
    fc.property(fc.array(grant, { maxLength: 3 }), records(schema), fc.boolean(), (grants, recs, walled) => {
      const world = fill(file, schema, recs);
      const policy = new Policy(schema, {
        roles: [{ id: "lead", name: "Lead", side: "client", includes: [] }],
        walls: { [t.signs]: walled ? { kind: "owned", path: wayToCompany(schema, signs) } : { kind: "shared" } },
        grants: grants.map((tests, i) => ({
          id: `g${i}`,
          roles: ["lead"],
          table: t.signs,
          actions: ["see"],
          fields: [],
          changes: [],
          filter: {
            kind: "all",
            of: tests.map(
              ({ f, operator, values }): Test => ({
                kind: "test",
                path: [f.id],
                operator,
                operands: values.length === 0 ? [] : [{ kind: "literal", value: operator.endsWith("of") ? values : values[0]! }],
              }),
            ),
          },
        })),
      });
      const ability = createMongoAbility([
        ...grants.map((tests) => ({
          action: "see",
          subject: "Sign",
          conditions: Object.fromEntries(tests.map(({ f, operator, values }) => [f.id, EXPRESSIBLE[operator]!(f, values)])) as MongoQuery,
        })),
        ...(walled ? [{ action: "see", subject: "Sign", inverted: true, conditions: { company: { $ne: "c1" } } as MongoQuery }] : []),
      ]);
      const theirs = world.all(t.signs).filter((r) => {
        const values = Object.fromEntries(
          signs.fields.map((f): [string, unknown] => [
            f.id,
            r.values[f.id] === null || f.type !== "text" ? r.values[f.id] : fold(String(r.values[f.id])),
          ]),
        );
        return ability.can("see", subject("Sign", { ...values, company: r.companyId }));
      });
      const ours = listRecords({ file, policy, viewer: testViewer({ roles: ["lead"] }) }, t.signs, { limit: 100 }).records;
      expect(ours.map((r) => r.id).sort()).toEqual(theirs.map((r) => r.id).sort());
      seen += ours.length;
    }),
    { seed, numRuns: runs(1000) },
  );
  expect(seen).toBeGreaterThan(enough(500));
}, 120_000);
