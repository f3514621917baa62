import { expect, it } from "vitest";
import { singularOf } from "./singular";

it("one of them is called so", () => {
  const names = ["Branches", "Companies", "Job sites", "Boxes", "Addresses", "Statuses", "Analyses", "Glass", "Staff", "Photos (2026)"];
  expect(names.map(singularOf)).toEqual([
    ...["Branch", "Company", "Job site", "Box", "Address", "Status", "Analysis", "Glass", "Staff", "Photo (2026)"],
  ]);
  expect(["Aufträge", "清单", ""].map(singularOf)).toEqual(["Aufträge", "清单", ""]);
});
