import { expect, it } from "vitest";
import { ownFolder } from "@/testing/folder";
import { testPortal } from "@/testing/portal";
import { tellNews } from "./news";

ownFolder();

it("tells active people with the roles, each once, and nobody without words", async () => {
  const p = testPortal({ grants: [{ roles: ["lead", "looker"], table: "signs" }] });
  p.person("Dana", "One", "lead");
  p.person("Wren", "One", "looker");
  const gone = p.person("Pim", "Two", "lead").viewer.person!.id;
  p.file.db.prepare("UPDATE t_people SET f_person_status = 'inactive' WHERE id = ?").run(gone);
  const tell = (roles: string[], words: string) => tellNews(p.file, p.owner, { roles, words, by: "Rosalind" }, p.owner.now);
  expect([await tell([], "New"), await tell(["lead"], "  ")]).toEqual([0, 0]);
  expect(await tell(["lead"], "There is a board now.")).toBe(1);
  const rows = p.file.db.prepare("SELECT occasion, body FROM sys_messages").all() as { occasion: string; body: string }[];
  expect(rows).toEqual([{ occasion: "news", body: expect.stringContaining("There is a board now.") }]);
  expect(rows[0]!.body).toContain("Dana");
});
