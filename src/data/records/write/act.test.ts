/** Acts: opened by grants like the five actions, set what was settled beforehand, and are a way around nothing. */
import { beforeEach, describe, expect, it } from "vitest";
import type { Act } from "@/core/access/act";
import { actProblems } from "@/core/access/acts";
import { doingOf } from "@/core/access/rules";
import { explain } from "@/core/access/words/explain";
import { explanationSentences, grantSentence } from "@/core/access/words/wording";
import { must, type TestPortal, testPortal } from "@/testing/portal";
import { readRow, worldOf } from "../../tables/rows";
import type { Desk } from "../desk";

let p: TestPortal;
let dana: Desk; // One, lead: may approve
let rafe: Desk; // Two, lead
let wren: Desk; // One, looks only
let sign: string;

const approve = (x: TestPortal): Act => ({
  id: "approve",
  name: "Approve",
  table: x.table("signs").id,
  on: "change",
  sets: [
    { field: x.field("signs", "lit"), to: { kind: "literal", value: true } },
    { field: x.field("signs", "fitted"), to: { kind: "date", anchor: "today", days: 0 } },
  ],
});
const report = (x: TestPortal): Act => ({
  id: "report",
  name: "Report a sign",
  table: x.table("signs").id,
  on: "add",
  sets: [{ field: x.field("signs", "type"), to: { kind: "literal", value: "Door" } }],
});

beforeEach(() => {
  p = testPortal({
    grants: [
      { roles: ["lead", "looker"], table: "signs" },
      { roles: ["lead"], table: "projects" },
      { roles: ["lead"], table: "signs", actions: [], acts: ["approve"], changes: ["note"] },
      { roles: ["lead"], table: "signs", actions: [], acts: ["report"], changes: ["code", "project"] },
    ],
    acts: (x) => [approve(x), report(x)],
  });
  dana = p.person("Dana", "One", "lead");
  rafe = p.person("Rafe", "Two", "lead");
  wren = p.person("Wren", "One", "looker");
  sign = p.add("signs", { code: "N1", project: p.project("One"), type: "Hanging" });
});
const signs = () => p.table("signs");
const now = () => p.owners.read(signs(), sign)!.fields;

describe("an act that changes", () => {
  it("sets its fields for whom a grant opens it, without a right to change them otherwise", () => {
    expect(dana.acts(signs()).map((a) => a.name)).toEqual(["Approve", "Report a sign"]);
    expect(dana.change(signs(), sign, p.values("signs", { lit: true }), null)).toMatchObject({ error: { code: "not-allowed" } });
    must(dana.act(approve(p), sign));
    expect([now()[p.field("signs", "lit")], now()[p.field("signs", "fitted")]]).toEqual([true, "2026-06-15"]);
    const last = p.file.db.prepare("SELECT actor_kind, via, act, company_id FROM sys_events ORDER BY id DESC LIMIT 1").get();
    expect(last).toEqual({ actor_kind: "person", via: "act", act: "act:approve", company_id: p.company("One") });
  });
  it("takes beside it only what its grant lists, and what it sets wins", () => {
    must(dana.act(approve(p), sign, p.values("signs", { note: "looks good" })));
    expect([now()[p.field("signs", "note")], now()[p.field("signs", "lit")]]).toEqual(["looks good", true]);
    const other = p.add("signs", { code: "N9", project: p.project("One") });
    expect(dana.act(approve(p), other, p.values("signs", { code: "renamed" }))).toMatchObject({ error: { code: "not-allowed" } });
    expect(p.owners.labelOf(signs(), other)).toBe("N9");
  });
  it("is nobody's who has no grant for it, of another company, or signed out", () => {
    for (const who of [wren, rafe, p.visitor()]) {
      const done = who.act(approve(p), sign);
      expect(done.ok).toBe(false);
      expect(now()[p.field("signs", "lit")]).toBeNull();
    }
    // Another company's record and one that does not exist answer alike.
    expect(rafe.act(approve(p), sign)).toEqual(rafe.act(approve(p), "no-such-record"));
    expect(rafe.act(approve(p), sign)).toEqual({ ok: false, error: { code: "not-found" } });
  });
  it("is told like any other decision", () => {
    const row = readRow(p.file, p.schema, signs(), sign)!;
    const told = (who: Desk) => explain(who.policy, who.viewer, doingOf(approve(p)), signs().id, row, worldOf(p.file, p.schema));
    expect(told(dana)).toMatchObject({ outcome: "allowed", fields: [p.field("signs", "fitted"), p.field("signs", "lit")] });
    expect(explanationSentences(wren.policy, told(wren)).map((s) => s.text)).toContain("No grant lets the person's roles “Approve” Signs.");
    expect(grantSentence(dana.policy, dana.policy.rules.grants[2]!)).toBe("Lead may “Approve” Signs.");
  });
});

describe("an act that adds", () => {
  it("makes a record with what it sets and what is filled in, within the wall", () => {
    const made = must(dana.act(report(p), null, p.values("signs", { code: "N2", project: p.project("One") })));
    expect(p.owners.read(signs(), made.id)!.fields).toMatchObject({ [p.field("signs", "type")]: "Door", [p.field("signs", "code")]: "N2" });
  });
  it("puts nothing into another company, whatever project is named", () => {
    expect(dana.act(report(p), null, p.values("signs", { code: "N3", project: p.project("Two") })).ok).toBe(false);
    expect(dana.act(report(p), null, p.values("signs", { code: "N3" })).ok).toBe(false); // it would be nobody's
    expect(wren.act(report(p), null, p.values("signs", { code: "N3", project: p.project("One") })).ok).toBe(false);
    expect(p.owners.count(signs())).toBe(1);
  });
  it("sets no field that neither it nor the grant names", () => {
    const given = p.values("signs", { code: "N4", project: p.project("One"), cost: 1 });
    expect(dana.act(report(p), null, given)).toMatchObject({ error: { code: "not-allowed" } });
  });
});

it("what would make an act wrong is said in sentences", () => {
  const to = { kind: "literal", value: "x" } as const;
  const a = approve(p);
  expect(actProblems({ ...a, sets: [] }, p.schema)).toEqual(["The act Approve sets nothing."]);
  expect(actProblems({ ...a, table: "t_99" }, p.schema)).toEqual(["The act Approve is on a table that is gone."]);
  expect(actProblems({ ...a, sets: [{ field: p.field("signs", "lit"), to }] }, p.schema)).toEqual([
    "The act Approve sets Lit to something that does not fit it.",
  ]);
  expect(
    actProblems({ ...a, sets: [{ field: p.field("signs", "code"), to: { kind: "date", anchor: "today", days: 0 } }] }, p.schema),
  ).toEqual(["The act Approve sets Code to a day, but it is no date."]);
});
