import { describe, expect, it } from "vitest";
import { makeTestSchema, memoryPortal, signsGrant, testViewer } from "@/testing/world";
import { Policy } from "../policy";
import type { Row, World } from "../row";
import type { Grant, Wall } from "../rules";
import { explain } from "./explain";
import { explanationSentences, grantSentence, type Names, reasonSentence, wallSentence } from "./wording";

const { schema, t } = makeTestSchema(memoryPortal());
const id = (table: string, slug: string): string => schema.tableBySlug(table)!.fields.find((f) => f.slug === slug)!.id;
const names: Names = { company: (c) => `Company ${c}`, record: (_, r) => `Record ${r}`, feature: (f) => `the ${f}` };
const grant = (more: Partial<Grant> = {}): Grant => signsGrant(schema, more);
const policyOf = (grants: Grant[], wall: Wall = { kind: "owned", path: [id("signs", "project"), id("projects", "company")] }): Policy =>
  new Policy(schema, {
    roles: [
      { id: "lead", name: "Lead", side: "client", includes: [] },
      { id: "manager", name: "Site manager", side: "client", includes: [] },
    ],
    walls: { [t.signs]: wall },
    grants,
  });

describe("grants as sentences", () => {
  it.each([
    [{}, "Lead may see Signs."],
    [{ roles: ["lead", "manager"], actions: ["see", "add", "export"] }, "Lead and Site manager may see, add and export Signs."],
    [{ feature: "reports" }, "Lead may see Signs, while their plan includes the reports."],
    [{ validFrom: "2026-01-01", validUntil: "2026-12-31" }, "Lead may see Signs, from 2026-01-01, until 2026-12-31."],
    [{ roles: ["gone"] }, "a removed role may see Signs."],
    [
      {
        filter: {
          kind: "all",
          of: [
            {
              kind: "test",
              path: [id("signs", "site")],
              operator: "any-of",
              operands: [{ kind: "viewer", of: "person", field: "f_person_name" }],
            },
            {
              kind: "test",
              path: [id("signs", "fitted")],
              operator: "more-than",
              operands: [{ kind: "date", anchor: "today", days: -30 }],
            },
          ],
        },
      },
      "Lead may see Signs where Site is any of the person's Name and Fitted is after 30 days before today.",
    ],
    [
      {
        filter: {
          kind: "any",
          of: [
            {
              kind: "test",
              path: [id("signs", "project"), id("projects", "company")],
              operator: "is",
              operands: [{ kind: "literal", value: "c9" }],
            },
            {
              kind: "not",
              of: { kind: "test", path: [id("signs", "cost")], operator: "more-than", operands: [{ kind: "literal", value: 1250 }] },
            },
          ],
        },
      },
      "Lead may see Signs where (Project › Company is Record c9 or not (Cost is more than GBP 12.50)).",
    ],
  ] as [Partial<Grant>, string][])("%#", (more, sentence) => expect(grantSentence(policyOf([]), grant(more), names)).toBe(sentence));
});

describe("walls as sentences", () => {
  it.each([
    [{ kind: "shared" }, "Shared: grants may open Signs to any company and to visitors."],
    [{ kind: "agency-only" }, "Agency only: no grant opens Signs to a client."],
    [
      { kind: "owned", path: [id("signs", "project"), id("projects", "company")] },
      "Owned: each record of Signs belongs to the company that Project › Company leads to.",
    ],
  ] as [Wall, string][])("%#", (wall, sentence) => expect(wallSentence(schema, t.signs, wall)).toBe(sentence));
});

describe("explanations", () => {
  const world: World = { row: () => undefined };
  const row: Row = { id: "r", table: t.signs, companyId: "c1", values: { [id("signs", "type")]: "Totem", [id("signs", "project")]: null } };
  const only = grant({
    filter: { kind: "test", path: [id("signs", "type")], operator: "is", operands: [{ kind: "literal", value: "Door" }] },
  });
  const told = (policy: Policy, r: Row | null, viewer = testViewer({ roles: ["lead"] })): string[] =>
    explanationSentences(policy, explain(policy, viewer, "see", t.signs, r, world), names).map((s) => `${s.holds ? "+" : "-"} ${s.text}`);

  it("name the grant, the test that failed, what was found and what was wanted", () => {
    expect(told(policyOf([only]), row)).toEqual([
      "+ The account is active.",
      "+ Acts for One as Lead.",
      "+ The record is on this person's side of the company wall.",
      "- Does not match: Lead may see Signs where Type is “Door”. But Type is “Totem”, and the grant asks that it is “Door”.",
    ]);
  });
  it("say that the wall refused, without naming the other company", () => {
    expect(told(policyOf([grant({})]), { ...row, companyId: "c2" })[2]).toBe("- The wall refuses: it belongs to another company.");
    expect(told(policyOf([grant({})]), { ...row, companyId: null })[2]).toBe("- The wall refuses: it leads to no company of theirs.");
  });
  it("say when nothing was granted, or a plan is missing, or the account is closed", () => {
    expect(told(policyOf([]), null)).toContain("- No grant lets the person's roles see Signs.");
    expect(told(policyOf([grant({ feature: "reports" })]), null)).toContain(
      "- A grant would open it, but the company's plan does not include the reports.",
    );
    const inactive = testViewer({ roles: ["lead"], person: { id: "p", name: "", status: "inactive", values: {} } });
    expect(told(policyOf([grant({})]), row, inactive)[0]).toBe("- The account is inactive, so it opens nothing.");
  });
  it("say that a relation on the way is empty", () => {
    const deep = grant({
      filter: {
        kind: "test",
        path: [id("signs", "project"), id("projects", "title")],
        operator: "is",
        operands: [{ kind: "literal", value: "x" }],
      },
    });
    expect(told(policyOf([deep]), row)[3]).toContain("But Project is empty.");
  });
  it("everything is open to the owner", () =>
    expect(told(policyOf([]), row, testViewer({ kind: "owner" }))).toEqual(["+ The owner has everything."]));
});

it("every reason has a sentence", () => {
  const policy = policyOf([grant({})]);
  const reasons = [
    { code: "account", status: "expired" },
    { code: "signed-out", table: t.signs },
    { code: "no-company", table: t.signs },
    { code: "agency-only", table: t.signs },
    { code: "wall", table: t.signs, found: "c2" },
    { code: "wall", table: t.signs, found: null },
    { code: "feature", grant: "g1", feature: "reports" },
    { code: "not-yet", grant: "g1", date: "2027-01-01" },
    { code: "over", grant: "g1", date: "2025-01-01" },
    { code: "no-grant", action: "remove", table: t.signs },
    { code: "filter", grant: "g1", failed: [] },
    { code: "field", field: id("signs", "code") },
    { code: "relation", field: id("signs", "site") },
    { code: "after", table: t.signs },
    { code: "unseen", table: t.signs },
  ] as const;
  const sentences = reasons.map((r) => reasonSentence(policy, r, names));
  for (const s of sentences) expect(s).toMatch(/^[A-Z].*\.$/);
  expect(new Set(sentences).size).toBe(sentences.length);
});
