import { describe, expect, it } from "vitest";
import type { Line, Matrix } from "../sightlines";
import { companiesOf, type Filters, rangeWords, rolesOf, rowsOf } from "./sight-rows";

const line = (as: string, name: string, company: string | null, ...roles: string[]): Line => ({
  as,
  name,
  companyId: company && `c-${company}`,
  company,
  roles,
  status: "active",
  cells: [[name.length, 0, 0, 0, 0, -1]],
});
const matrix: Matrix = {
  tables: [{ slug: "signs", name: "Signs", all: 9 }],
  roles: ["Approver", "Lead", "Onlooker", "Project lead"].map((name) => ({ name, included: false })),
  sentences: [],
  queries: 0,
  took: 0,
  lines: [
    line("1", "Ines", null, "Project lead"),
    line("2", "Wren", "Brindle", "Lead"),
    line("3", "Sóla", "Brindle", "Onlooker", "Lead"),
    line("4", "Dana", "Saltmarsh", "Lead"),
    { ...line("visitor", "A visitor", null), status: "visitor" },
  ],
};
const shown = (f: Partial<Filters>): string[] =>
  rowsOf(matrix, { q: "", company: "", role: "", table: "", by: "company", show: "people", ...f }).map((r) =>
    r.kind === "group" ? `# ${r.name} ${r.people}` : r.line.name,
  );

describe("the lines of the matrix", () => {
  it("stand under their company, those of none together", () =>
    expect(shown({})).toEqual(["# Agency and others 2", "Ines", "A visitor", "# Brindle 2", "Wren", "Sóla", "# Saltmarsh 1", "Dana"]));
  it("are found by any part of a name, in any case", () => expect(shown({ q: " SÓL" })).toEqual(["# Brindle 1", "Sóla"]));
  it("are filtered by company and role together", () => {
    expect(shown({ company: "c-Brindle", role: "Onlooker" })).toEqual(["# Brindle 1", "Sóla"]);
    expect(shown({ company: "Brindle" })).toEqual(["# Brindle 2", "Wren", "Sóla"]);
    expect(shown({ company: "Agency and others" })).toEqual(["# Agency and others 2", "Ines", "A visitor"]);
  });
  it("may be none, and then no group stands alone", () => expect(shown({ q: "nobody" })).toEqual([]));
  it("offer each company and role once", () => {
    expect(companiesOf(matrix).map((c) => [c.value, c.label])).toEqual([
      ["none", "Agency and others"],
      ["c-Brindle", "Brindle"],
      ["c-Saltmarsh", "Saltmarsh"],
    ]);
    expect(rolesOf(matrix)).toEqual(["Approver", "Lead", "Onlooker", "Project lead"]);
  });
  it("by role: under each role held, with the roles that nobody holds", () => {
    expect(shown({ by: "role" })).toEqual([
      ...["# Approver 0", "# Lead 3", "Wren", "Sóla", "Dana", "# Onlooker 1", "Sóla", "# Project lead 1", "Ines"],
      ...["# Visitors 1", "A visitor"],
    ]);
    expect(shown({ by: "role", role: "Onlooker" })).toEqual(["# Onlooker 1", "Sóla"]);
    expect(shown({ by: "role", q: "dana" })).toEqual(["# Lead 1", "Dana"]);
  });
  it("groups alone tell the fewest and the most that anybody of them sees", () => {
    const groups = rowsOf(matrix, { q: "", company: "", role: "", table: "", by: "role", show: "groups" });
    const n = new Intl.NumberFormat("en-GB");
    expect(groups.map((g) => (g.kind === "group" ? [g.name, rangeWords(g.ranges[0]!, n)] : []))).toEqual([
      ["Approver", "0"],
      ["Lead", "4"],
      ["Onlooker", "4"],
      ["Project lead", "4"],
      ["Visitors", "9"],
    ]);
    const all = rowsOf(matrix, { q: "", company: "", role: "", table: "", by: "company", show: "groups" });
    expect(all[0]).toMatchObject({ kind: "group", ranges: [[4, 9]] });
    expect(rangeWords([4, 1239], n)).toBe("4–1,239");
  });
});
