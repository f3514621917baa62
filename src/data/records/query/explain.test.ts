/** The owner's looks through another's eyes: what is seen and not seen make the whole, and who sees a record is who lists it. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { decide } from "@/core/access/decide";
import { Policy } from "@/core/access/policy";
import type { Viewer } from "@/core/access/who/viewer";
import { policy, records, viewer } from "@/testing/arbitraries";
import { enough, runs, seed } from "@/testing/random";
import { fill, makeTestSchema, memoryPortal, testViewer } from "@/testing/world";
import { compareOn } from "../counting/before-and-after";
import { countRecords } from "../counting/count";
import { countShown, explainRecord, explainRecords, whoMay } from "./explain";
import { listRecords, readRecord } from "./read";

const file = memoryPortal();
const { schema } = makeTestSchema(file);
const owner = testViewer({ kind: "owner" }) as never;
const whole = { action: "see", field: null } as const;
const page = { limit: 100, offset: 0, search: "" };

it(`seen and not seen are the whole, each told as such (seed ${seed})`, () => {
  let [yes, no] = [0, 0];
  fc.assert(
    fc.property(policy(schema), records(schema), viewer(schema), (rules, recs, who) => {
      const world = fill(file, schema, recs);
      const p = new Policy(schema, rules);
      for (const t of schema.tables) {
        const seen = explainRecords({ file, policy: p, viewer: owner }, who, t.id, { ...page, show: "seen" });
        const unseen = explainRecords({ file, policy: p, viewer: owner }, who, t.id, { ...page, show: "unseen" });
        expect(seen.every((r) => r.explanation.outcome === "allowed")).toBe(true);
        expect(unseen.every((r) => r.explanation.outcome === "refused")).toBe(true);
        expect([...seen, ...unseen].map((r) => r.id).sort()).toEqual(
          world
            .all(t.id)
            .map((r) => r.id)
            .sort(),
        );
        const count = (show: "all" | "seen" | "unseen"): number =>
          countShown({ file, policy: p, viewer: owner }, who, t.id, { show, search: "" });
        expect([count("all"), count("seen"), count("unseen")]).toEqual([seen.length + unseen.length, seen.length, unseen.length]);
        yes += seen.length;
        no += unseen.length;
      }
    }),
    { seed, numRuns: runs(300) },
  );
  expect(Math.min(yes, no)).toBeGreaterThan(enough(200));
});

it(`who sees a record is whoever lists it; two viewers are compared by what each lists (seed ${seed})`, () => {
  fc.assert(
    fc.property(policy(schema), records(schema), fc.array(viewer(schema), { minLength: 2, maxLength: 3 }), (rules, recs, viewers) => {
      const world = fill(file, schema, recs);
      const p = new Policy(schema, rules);
      const people = viewers.map((v) => ({ viewer: v }));
      for (const t of schema.tables) {
        const lists = (v: Viewer): string[] => listRecords({ file, policy: p, viewer: v }, t.id, { limit: 100 }).records.map((r) => r.id);
        for (const r of world.all(t.id)) {
          expect(whoMay({ file, policy: p, viewer: owner }, people, t.id, r.id, whole)).toEqual(
            people.filter((x) => lists(x.viewer).includes(r.id)),
          );
          // A field of the record: whoever reads it there, by what their own reading returns.
          for (const f of t.fields) {
            const reads = people.filter((x) => f.id in (readRecord({ file, policy: p, viewer: x.viewer }, t.id, r.id)?.fields ?? {}));
            expect(whoMay({ file, policy: p, viewer: owner }, people, t.id, r.id, { action: "see", field: f.id })).toEqual(reads);
          }
          const exports = people.filter((x) => decide(p, x.viewer, "export", t.id, r, world).outcome === "allowed");
          expect(whoMay({ file, policy: p, viewer: owner }, people, t.id, r.id, { action: "export", field: null })).toEqual(exports);
          // What is told of a download, field by field, is what a download holds.
          const [v] = viewers as [Viewer];
          const taken = listRecords({ file, policy: p, viewer: v }, t.id, { limit: 100, forExport: true }).records.find(
            (x) => x.id === r.id,
          );
          const told = explainRecord({ file, policy: p, viewer: owner }, v, t.id, r.id, "export")!.explanation;
          expect([told.outcome, [...told.fields].sort()]).toEqual([taken ? "allowed" : "refused", Object.keys(taken?.fields ?? {}).sort()]);
          for (const f of t.fields)
            expect(whoMay({ file, policy: p, viewer: owner }, [people[0]!], t.id, r.id, { action: "export", field: f.id }).length > 0).toBe(
              told.fields.includes(f.id),
            );
          const one = explainRecord({ file, policy: p, viewer: owner }, viewers[0]!, t.id, r.id);
          expect(one?.explanation.outcome === "allowed").toBe(lists(viewers[0]!).includes(r.id));
        }
        const c = compareOn(file, p, owner, viewers[0]!, viewers[1]!, t.id);
        const other = lists(viewers[1]!);
        expect(c).toMatchObject({
          one: countRecords({ file, policy: p, viewer: viewers[0]! }, t.id),
          other: other.length,
          both: lists(viewers[0]!).filter((x) => other.includes(x)).length,
        });
      }
      expect(whoMay({ file, policy: p, viewer: owner }, people, schema.tables[0]!.id, "never", whole)).toEqual([]);
    }),
    { seed, numRuns: runs(150) },
  );
});
