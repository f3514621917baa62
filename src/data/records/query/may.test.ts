import { expect, it } from "vitest";
import { TestPortal } from "@/testing/portal";

it("what may be done comes in the order in which it was asked for: no hidden value can be told from it", () => {
  const p = new TestPortal([{ roles: ["lead"], table: "signs", fields: [] }], () => []);
  const dana = p.person("Dana", "One", "lead");
  const project = p.project("One");
  const signs = ["z", "m", "a"].map((code) => p.add("signs", { code, project }));
  const theirs = p.add("signs", { code: "b", project: p.project("Two") });
  const may = (ids: readonly string[]) => [...dana.whereMay(p.table("signs"), "see", ids)];
  for (const ids of [signs, signs.toReversed(), [signs[1]!, signs[2]!, signs[0]!]]) expect(may([...ids, theirs])).toEqual(ids);
});
