/**
 * A second authorization engine from the registry, Cedar, on the part of the language that it can express: trees of tests
 * on text, choices, money, dates, yes and no, relations and their emptiness, with the viewer's own list of sites, behind a
 * wall. Grants become `permit`, the wall becomes `forbid`. Left out: hops (Cedar follows entities, not tables), substring
 * and prefix tests on folded text, many-relations.
 */
import { type AuthorizationCall, isAuthorized } from "@cedar-policy/cedar-wasm/nodejs";
import fc from "fast-check";
import { expect, it } from "vitest";
import { Policy } from "@/core/access/policy";
import type { Condition, Test } from "@/core/schema/condition";
import type { Operator } from "@/core/schema/operators";
import type { Field, Scalar } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { idsOf, records, valueFor, wayToCompany } from "@/testing/arbitraries";
import { enough, runs, said, seed } from "@/testing/random";
import { fill, makeTestSchema, memoryPortal, testViewer } from "@/testing/world";
import { listRecords } from "./read";

const file = memoryPortal();
const { schema, t } = makeTestSchema(file);
const signs = schema.table(t.signs);
const site = signs.fields.find((f) => f.slug === "site")!;

const OPERATORS: Partial<Record<Field["type"], Operator[]>> = {
  text: ["is", "is-not", "any-of", "none-of", "is-empty", "is-not-empty"],
  choice: ["is", "is-not", "any-of", "none-of", "is-empty"],
  relation: ["is", "is-not", "any-of", "none-of", "is-empty", "is-not-empty"],
  money: ["is", "is-not", "less-than", "at-most", "more-than", "at-least", "is-empty"],
  date: ["is", "is-not", "is-empty", "is-not-empty"],
  "yes-no": ["is"],
};

const stored = (f: Field, v: Scalar): string => (typeof v === "string" ? JSON.stringify(f.type === "text" ? fold(v) : v) : String(v));

/** A test in Cedar's own syntax (Cedar policy language reference, "Operators"); an empty value is an attribute that is not there. */
function cedarTest(c: Test, mySites: boolean): string {
  const f = schema.field(c.path[0]!);
  const has = `resource has ${f.id}`;
  const at = `resource.${f.id}`;
  if (mySites && c.operands[0]?.kind === "viewer")
    return c.operator === "none-of"
      ? `principal.sites != [] && !(${has} && principal.sites.contains(${at}))`
      : `${has} && principal.sites.contains(${at})`;
  const [o] = c.operands;
  const values = o?.kind === "literal" ? (Array.isArray(o.value) ? o.value : [o.value]) : [];
  const list = `[${values.map((v) => stored(f, v)).join(", ")}]`;
  const only = values[0] === undefined ? "" : stored(f, values[0]);
  const ordered: Partial<Record<Operator, string>> = { "less-than": "<", "at-most": "<=", "more-than": ">", "at-least": ">=" };
  switch (c.operator) {
    case "is":
      return `${has} && ${at} == ${only}`;
    case "is-not":
      return `!(${has} && ${at} == ${only})`;
    case "any-of":
      return `${has} && ${list}.contains(${at})`;
    case "none-of":
      return `!(${has} && ${list}.contains(${at}))`;
    case "is-empty":
      return `!(${has})`;
    case "is-not-empty":
      return has;
    default:
      return `${has} && ${at} ${ordered[c.operator]} ${only}`;
  }
}

const cedar = (c: Condition): string => {
  switch (c.kind) {
    case "test":
      return `(${cedarTest(c, true)})`;
    case "not":
      return `!(${cedar(c.of)})`;
    case "all":
      return c.of.length === 0 ? "true" : `(${c.of.map(cedar).join(" && ")})`;
    case "any":
      return c.of.length === 0 ? "false" : `(${c.of.map(cedar).join(" || ")})`;
  }
};

const test: fc.Arbitrary<Condition> = fc.oneof(
  {
    arbitrary: fc.constantFrom(...signs.fields.filter((f) => OPERATORS[f.type])).chain((f) =>
      fc.constantFrom(...OPERATORS[f.type]!).chain((operator) => {
        const n = operator.endsWith("empty") ? 0 : operator.endsWith("of") ? 2 : 1;
        const value = valueFor(f).filter((v) => v !== null) as fc.Arbitrary<Scalar>;
        return fc.array(value, { minLength: n, maxLength: n }).map(
          (values): Condition => ({
            kind: "test",
            path: [f.id],
            operator,
            operands: n === 0 ? [] : [{ kind: "literal", value: operator.endsWith("of") ? (values as string[]) : values[0]! }],
          }),
        );
      }),
    ),
    weight: 6,
  },
  {
    arbitrary: fc.constantFrom("any-of" as const, "none-of" as const).map(
      (operator): Condition => ({
        kind: "test",
        path: [site.id],
        operator,
        operands: [{ kind: "viewer", of: "person", field: "their_sites" }],
      }),
    ),
    weight: 1,
  },
);
const tree = (depth: number): fc.Arbitrary<Condition> =>
  depth === 0
    ? test
    : fc.oneof(
        test,
        fc.array(tree(depth - 1), { maxLength: 3 }).map((of): Condition => ({ kind: "all", of })),
        fc.array(tree(depth - 1), { maxLength: 3 }).map((of): Condition => ({ kind: "any", of })),
        tree(depth - 1).map((of): Condition => ({ kind: "not", of })),
      );

it(`the same records are seen as Cedar permits, on ${said(800)} policies of trees (seed ${seed})`, () => {
  let [seen, asked] = [0, 0];
  fc.assert(
    fc.property(
      fc.array(tree(2), { maxLength: 3 }),
      records(schema),
      fc.boolean(),
      fc.subarray(idsOf(t.sites)),
      (filters, recs, walled, sites) => {
        const world = fill(file, schema, recs);
        const policy = new Policy(schema, {
          roles: [{ id: "lead", name: "Lead", side: "client", includes: [] }],
          walls: { [signs.id]: walled ? { kind: "owned", path: wayToCompany(schema, signs) } : { kind: "shared" } },
          grants: filters.map((filter, i) => ({
            id: `g${i}`,
            roles: ["lead"],
            table: signs.id,
            actions: ["see"],
            fields: [],
            changes: [],
            filter,
          })),
        });
        const viewer = testViewer({ roles: ["lead"], person: { id: "p1", name: "D", status: "active", values: { their_sites: sites } } });
        const policies = [
          ...filters.map((f) => `permit(principal, action, resource) when { ${cedar(f)} };`),
          ...(walled
            ? ["forbid(principal, action, resource) unless { resource has company && resource.company == principal.company };"]
            : []),
        ].join("\n");
        const permitted = world.all(signs.id).filter((r) => {
          const attrs: Record<string, string | number | boolean> = r.companyId ? { company: r.companyId } : {};
          for (const f of signs.fields) {
            const v = r.values[f.id];
            if (OPERATORS[f.type] && v !== null && v !== undefined && v !== "")
              attrs[f.id] = f.type === "text" ? fold(String(v)) : (v as Scalar);
          }
          const call: AuthorizationCall = {
            principal: { type: "Person", id: "p1" },
            action: { type: "Action", id: "see" },
            resource: { type: "Sign", id: r.id },
            context: {},
            policies: { staticPolicies: policies },
            entities: [
              { uid: { type: "Person", id: "p1" }, attrs: { company: "c1", sites }, parents: [] },
              { uid: { type: "Sign", id: r.id }, attrs, parents: [] },
            ],
          };
          const answer = isAuthorized(call);
          if (answer.type !== "success") throw new Error(JSON.stringify(answer.errors));
          if (answer.response.diagnostics.errors.length > 0) throw new Error(JSON.stringify(answer.response.diagnostics.errors));
          asked++;
          return answer.response.decision === "allow";
        });
        const ours = listRecords({ file, policy, viewer }, signs.id, { limit: 100 }).records.map((r) => r.id);
        expect([...ours].sort()).toEqual(permitted.map((r) => r.id).sort());
        seen += ours.length;
      },
    ),
    { seed, numRuns: runs(800) },
  );
  expect(asked).toBeGreaterThan(enough(3000));
  expect(seen).toBeGreaterThan(enough(600));
}, 120_000);
