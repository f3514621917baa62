import { describe, expect, it } from "vitest";
import type { Line, Matrix } from "../sightlines";
import { companiesOf, type Filters, rolesOf, rowsOf } from "./sight-rows";

const line = (as: string, name: string, company: string | null, ...roles: string[]): Line => ({
  as,
  name,
  company,
  roles,
  status: "active",
  cells: [],
});
const matrix: Matrix = {
  state: "ready",
  tables: [],
  sentences: [],
  queries: 0,
  took: 0,
  lines: [
    line("1", "Ines", null, "Project lead"),
    line("2", "Wren", "Brindle", "Lead"),
    line("3", "Sóla", "Brindle", "Onlooker", "Lead"),
    line("4", "Dana", "Saltmarsh", "Lead"),
    line("visitor", "A visitor", null),
  ],
};
const shown = (f: Partial<Filters>): string[] =>
  rowsOf(matrix, { q: "", company: "", role: "", table: "", ...f }).map((r) =>
    r.kind === "group" ? `# ${r.name} ${r.people}` : r.line.name,
  );

describe("the lines of the matrix", () => {
  it("stand under their company, those of none together", () =>
    expect(shown({})).toEqual(["# Agency and others 2", "Ines", "A visitor", "# Brindle 2", "Wren", "Sóla", "# Saltmarsh 1", "Dana"]));
  it("are found by any part of a name, in any case", () => expect(shown({ q: " SÓL" })).toEqual(["# Brindle 1", "Sóla"]));
  it("are filtered by company and role together", () => {
    expect(shown({ company: "Brindle", role: "Onlooker" })).toEqual(["# Brindle 1", "Sóla"]);
    expect(shown({ company: "Agency and others" })).toEqual(["# Agency and others 2", "Ines", "A visitor"]);
  });
  it("may be none, and then no group stands alone", () => expect(shown({ q: "nobody" })).toEqual([]));
  it("offer each company and role once", () => {
    expect(companiesOf(matrix)).toEqual(["Agency and others", "Brindle", "Saltmarsh"]);
    expect(rolesOf(matrix)).toEqual(["Lead", "Onlooker", "Project lead"]);
  });
});
