import { expect, it } from "vitest";
import { must, testPortal } from "@/testing/portal";
import { dropViewOf, keepViewOf, viewsKept } from "./kept";

it("are a person's own, by list, one of each name, and nobody else's to take away", () => {
  const p = testPortal({ grants: [{ roles: ["lead"], table: "signs" }] });
  const [dana, wren] = [p.person("Dana", "One", "lead").viewer, p.person("Wren", "One", "lead").viewer];
  must(keepViewOf(p.file, dana, "list-1", { name: " Late ", query: "is.stage=Late" }));
  must(keepViewOf(p.file, dana, "list-1", { name: "Late", query: "q=late" }));
  must(keepViewOf(p.file, dana, "list-2", { name: "Other", query: "" }));
  const [late] = viewsKept(p.file, dana, "list-1");
  expect(viewsKept(p.file, dana, "list-1")).toEqual([{ id: late!.id, name: "Late", query: "q=late" }]);
  expect(viewsKept(p.file, wren, "list-1")).toEqual([]);
  expect(dropViewOf(p.file, wren, late!.id)).toBe(false);
  expect(dropViewOf(p.file, p.visitor().viewer, late!.id)).toBe(false);
  expect(keepViewOf(p.file, p.visitor().viewer, "list-1", { name: "Mine", query: "" })).toEqual({ ok: false, error: "nobody" });
  for (const name of ["", "x".repeat(61)]) expect(keepViewOf(p.file, dana, "list-1", { name, query: "" }).ok).toBe(false);
  for (let i = 1; i < 30; i++) must(keepViewOf(p.file, dana, "list-1", { name: `V${i}`, query: "" }));
  expect(keepViewOf(p.file, dana, "list-1", { name: "One more", query: "" })).toEqual({ ok: false, error: "many" });
  for (let i = 0; i < 400; i++) keepViewOf(p.file, dana, `made-up-${i}`, { name: "x", query: "" });
  expect(p.file.db.prepare("SELECT count(*) FROM sys_kept_views").pluck().get()).toBe(300);
  expect(dropViewOf(p.file, dana, late!.id)).toBe(true);
  expect(viewsKept(p.file, dana, "list-1")).toHaveLength(29);
});
