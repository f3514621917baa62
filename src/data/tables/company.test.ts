/** Whose a record is stands in it from the moment it is added, as it would be worked out anew. */
import { expect, it } from "vitest";
import { testPortal } from "@/testing/portal";
import { published } from "../definition/published";
import { storeCompanies } from "./company";

it("an added record stores the company that its relations lead to, by one step, by two, or by none", () => {
  const p = testPortal({ grants: [] });
  const [one, project] = [p.company("One"), p.project("One")];
  const sign = p.add("signs", { code: "N1", project });
  const loose = p.add("signs", { code: "N2" });
  const of = (table: string, id: string): unknown =>
    p.file.db
      .prepare(`SELECT company_id FROM "${p.table(table).id}" WHERE id = ?`)
      .pluck()
      .get(id);
  const stored = [of("projects", project), of("signs", sign), of("signs", loose)];
  expect(stored).toEqual([one, one, null]);
  for (const t of ["projects", "signs"]) storeCompanies(p.file, published(p.file).policy, p.table(t).id);
  expect([of("projects", project), of("signs", sign), of("signs", loose)]).toEqual(stored);
});
