import { expect, it } from "vitest";
import { testPortal } from "@/testing/portal";
import { keepView, namedViews, ownView, PLAIN_VIEW, removeView } from "./views";

it("one's own view has no name and is found again; named ones are everybody's, one of each name", () => {
  const p = testPortal({ grants: [] });
  const view = { ...PLAIN_VIEW, hidden: ["f_1"], columns: [{ field: "f_2", width: 120 }] };
  expect(ownView(p.file, p.owner, "t_1")).toEqual(PLAIN_VIEW);
  expect(keepView(p.file, p.owner, "t_1", "", view).ok).toBe(true);
  expect(keepView(p.file, p.owner, "t_1", "", { ...view, frozen: 2 }).ok).toBe(true);
  expect(ownView(p.file, p.owner, "t_1")).toEqual({ ...view, frozen: 2 });
  keepView(p.file, p.owner, "t_1", "Late", { ...view, query: "sort=due" });
  const again = keepView(p.file, p.owner, "t_1", " Late ", view);
  expect(namedViews(p.file, p.owner, "t_1")).toEqual([{ id: again.ok && again.value.id, name: "Late", view }]);
  expect(namedViews(p.file, p.owner, "t_2")).toEqual([]);
  removeView(p.file, p.owner, again.ok ? again.value.id : "");
  expect(namedViews(p.file, p.owner, "t_1")).toEqual([]);
  expect(keepView(p.file, p.owner, "t_1", "x".repeat(61), view).ok).toBe(false);
});
