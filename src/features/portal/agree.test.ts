/** A condition means the same wherever it is asked: in a form while somebody types, on a page's record, and in a list (where SQLite answers). */
import fc from "fast-check";
import { expect, it } from "vitest";
import type { SectionOf } from "@/core/pages/page";
import { storePublished } from "@/data/definition/published";
import { emptyDefinition } from "@/data/installation/portals";
import { Desk } from "@/data/records/desk";
import { ownerViewer } from "@/identity/viewers/viewer";
import { condition, records } from "@/testing/arbitraries";
import { runs, seed, whole } from "@/testing/random";
import { fill, makeTestSchema, memoryPortal, PUBLISHER } from "@/testing/world";
import { recordMeets } from "./pages-for";
import { fillWorld } from "./records/filling";
import { portalRequest } from "./testing";

it("in memory as in SQL, for random records and conditions, by whoever reads all of them", () => {
  const { schema } = makeTestSchema(memoryPortal());
  const table = schema.tableBySlug("signs")!;
  const section = { config: { table: table.id } } as SectionOf<"form">;
  let asked = 0;
  let held = 0;
  fc.assert(
    fc.property(records(schema), fc.array(condition(schema, table), { minLength: 4, maxLength: 8 }), (all, conditions) => {
      const file = memoryPortal();
      makeTestSchema(file);
      storePublished(file, emptyDefinition("Test"), PUBLISHER);
      const world = fill(file, schema, all);
      const r = portalRequest(file, ownerViewer({ id: "o", name: "Owner" }, Date.UTC(2026, 5, 15, 12)));
      const forms = fillWorld(r, section);
      const desk = new Desk(file, r.published.policy, r.viewer);
      for (const row of world.all(table.id)) {
        const record = desk.read(table, row.id)!;
        for (const c of conditions) {
          // What is being typed has no id yet; and the files that these records name were never sent, so nobody reads them.
          if (/"self"|"f_person_picture"/.test(JSON.stringify(c))) continue;
          const typed = forms.holds(c, row.values);
          expect([row.id, c, typed]).toEqual([row.id, c, recordMeets(r, { table, record }, c)]);
          asked++;
          if (typed) held++;
        }
      }
    }),
    { seed, numRuns: runs(60) },
  );
  // Neither always nor never: the question is a real one. A fifth of the cases may be all alike.
  if (!whole) return;
  expect(held / asked).toBeGreaterThan(0.05);
  expect(held / asked).toBeLessThan(0.95);
});
