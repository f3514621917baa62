/** Scopes are kept for viewers alike; these hold that nobody is given another's, whatever the order of asking. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { runs } from "@/testing/random";
import { testViewer } from "@/testing/world";
import type { Operand } from "../schema/condition";
import { type Field, type FieldType, Schema } from "../schema/types";
import { Policy } from "./policy";
import type { Grant, Rules } from "./rules";
import { scope } from "./scope";
import type { Viewer } from "./who/viewer";

const field = (id: string, type: FieldType, target?: string): Field =>
  ({
    id,
    tableId: "signs",
    slug: id,
    name: id,
    type,
    options: target ? { target } : type === "number" ? { decimals: 0 } : type === "choice" || type === "choices" ? { choices: [] } : {},
    system: false,
  }) as Field;
const schema = new Schema(1, [
  {
    id: "signs",
    slug: "signs",
    name: "Signs",
    singular: "Sign",
    kind: "ordinary",
    labelFieldId: "code",
    fields: [field("code", "text"), field("site", "relation", "signs"), field("size", "number")],
  },
]);
const mine = (f: string): Operand => ({ kind: "viewer", of: "person", field: f });
const grant = (id: string, role: string, more: Partial<Grant>): Grant => ({
  id,
  roles: [role],
  table: "signs",
  actions: ["see"],
  filter: null,
  fields: ["code"],
  changes: [],
  ...more,
});
const rules: Rules = {
  roles: ["lead", "manager", "bookkeeper"].map((id) => ({ id, name: id, side: id === "bookkeeper" ? "agency" : "client", includes: [] })),
  walls: { signs: { kind: "shared" } },
  grants: [
    grant("sites", "manager", { filter: { kind: "test", path: ["site"], operator: "any-of", operands: [mine("sites")] } }),
    grant("word", "manager", { filter: { kind: "test", path: ["code"], operator: "is", operands: [mine("word")] } }),
    grant("paid", "lead", { feature: "reports" }),
    grant("dated", "lead", { validFrom: "2026-03-01" }),
    grant("books", "bookkeeper", {}),
  ],
};

// Values that a careless key would confuse: lists that join alike, numbers and the texts of them, empties of each kind.
const word = fc.constantFrom("a", "b", "ab", "a,b", "1", "", "1:a");
const values = fc.record({
  sites: fc.oneof(fc.array(word, { maxLength: 3 }), fc.constant(null)),
  word: fc.oneof(word, fc.constantFrom(1, true, null)),
});
const viewers = fc.array(
  fc.record({
    values,
    company: fc.constantFrom("c1", "c2", null),
    roles: fc.subarray(["lead", "manager", "bookkeeper"]),
    features: fc.subarray(["reports"]),
    now: fc.constantFrom(Date.UTC(2026, 1, 28, 12), Date.UTC(2026, 2, 1, 12)),
    signedIn: fc.boolean(),
  }),
  { minLength: 2, maxLength: 12 },
);

describe("scopes that are kept", () => {
  it("are those of a policy that keeps nothing, for any viewers in any order", () => {
    const policy = new Policy(schema, rules);
    fc.assert(
      fc.property(viewers, (list) => {
        for (const f of list) {
          const viewer = (): Viewer =>
            testViewer({
              kind: f.signedIn ? "person" : "visitor",
              person: f.signedIn ? { id: "p", name: "P", status: "active", values: f.values } : null,
              company: f.company && f.signedIn ? { id: f.company, name: f.company, values: {} } : null,
              roles: f.signedIn ? f.roles : [],
              features: new Set(f.features),
              now: f.now,
            });
          expect(scope(policy, viewer(), "signs")).toEqual(scope(new Policy(schema, rules), viewer(), "signs"));
        }
      }),
      { numRuns: runs(400) },
    );
  });

  it("are asked of the policy at hand when one viewer looks through two", () => {
    const wider = new Policy(schema, { ...rules, grants: [grant("all", "manager", {})] });
    const narrow = new Policy(schema, { ...rules, grants: [] });
    const viewer = testViewer({ roles: ["manager"] });
    expect(scope(wider, viewer, "signs").predicate.kind).toBe("always");
    expect(scope(narrow, viewer, "signs").predicate.kind).toBe("never");
    expect(scope(wider, viewer, "signs").predicate.kind).toBe("always");
  });
});
