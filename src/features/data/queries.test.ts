/** What the address of a grid says, also where somebody broke it by hand. */
import { expect, it } from "vitest";
import { published } from "@/data/definition/published";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { testPortal } from "@/testing/portal";
import { gridQuery } from "./queries";

it("filters that cannot be read are told in words, and the others hold", () => {
  const p = testPortal({ grants: [] });
  const office = { file: p.file, owner: p.owner, live: published(p.file) } as OfficePortal;
  const table = p.table("signs");
  const read = (...f: string[]) => gridQuery(office, table, { f });
  expect(read("code.is.%")).toMatchObject({ filters: [], problems: ["Code: this filter cannot be read."], condition: null });
  expect(read("code.is.50%25", "nothing.is.5").filters).toMatchObject([{ operator: "is", texts: ["50%"] }]);
  expect(read("nothing.is.5", "code.between.5").problems).toEqual(["There is no field nothing.", "Code cannot be compared like that."]);
});
