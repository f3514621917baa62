/** Acceptance by version: who, when and what it was, for whom reads all of it; never taken back, never of something that changed meanwhile. */
import { createHash } from "node:crypto";
import { beforeEach, expect, it } from "vitest";
import type { Act } from "@/core/access/act";
import { actProblems } from "@/core/access/acts";
import { must, type TestPortal, testPortal } from "@/testing/portal";
import type { Desk } from "./desk";

let p: TestPortal;
let dana: Desk; // One, lead: may accept
let rafe: Desk; // Two, lead
let wren: Desk; // One, looks only
let pim: Desk; // One, may accept but not read all of it
let sign: string;

const accept = (x: TestPortal): Act => ({
  id: "accept",
  name: "I accept",
  table: x.table("signs").id,
  on: "accept",
  accepts: [x.field("signs", "type"), x.field("signs", "code")],
  sets: [{ field: x.field("signs", "lit"), to: { kind: "literal", value: true } }],
});

beforeEach(() => {
  p = testPortal({
    grants: [
      { roles: ["lead", "looker"], table: "signs" },
      { roles: ["lead", "part"], table: "signs", actions: [], acts: ["accept"] },
      { roles: ["part"], table: "signs", fields: ["code"] },
    ],
    acts: (x) => [accept(x)],
  });
  dana = p.person("Dana", "One", "lead");
  rafe = p.person("Rafe", "Two", "lead");
  wren = p.person("Wren", "One", "looker");
  pim = p.person("Pim", "One", "part");
  sign = p.add("signs", { code: "N1", project: p.project("One"), type: "Hanging" });
});
const signs = () => p.table("signs");
const version = (d: Desk) => d.versionNow(signs(), sign, accept(p));
const list = (d: Desk) => d.acceptances(signs(), sign, [accept(p)]);

it("keeps who accepted which version, and tells when the record is another by now", () => {
  const seen = version(dana)!;
  expect(seen).toMatch(/^[0-9a-f]{64}$/);
  must(dana.accept(accept(p), sign, seen));
  expect(list(wren)).toMatchObject([{ act: "accept", author: { id: dana.viewer.person!.id, name: "Dana" }, hash: seen, now: true }]);
  expect(p.owners.read(signs(), sign)!.fields[p.field("signs", "lit")]).toBe(true);
  const kept = p.file.db.prepare("SELECT hash, body, company_id FROM sys_acceptances").get() as Record<string, string>;
  // FIPS 180-4's function over the text that stands beside it, by the same library that any reader has at hand.
  expect(createHash("sha256").update(kept.body!).digest("hex")).toBe(kept.hash);
  expect(JSON.parse(kept.body!).values[p.field("signs", "code")]).toBe("N1");
  must(p.owners.change(signs(), sign, p.values("signs", { code: "N2" }), null));
  expect([list(dana)[0]!.now, version(dana) === seen]).toEqual([false, false]);
  must(p.owners.change(signs(), sign, p.values("signs", { code: "N1" }), null));
  expect(list(dana)[0]!.now).toBe(true);
});

it("refuses a version that is not the one that stands", () => {
  const seen = version(dana)!;
  must(p.owners.change(signs(), sign, p.values("signs", { code: "N2" }), null));
  for (const given of [seen, "", "0".repeat(64)]) expect(dana.accept(accept(p), sign, given)).toMatchObject({ error: { code: "stale" } });
  expect(dana.act(accept(p), sign)).toMatchObject({ error: { code: "stale" } });
  expect(list(dana)).toEqual([]);
  // A field that is no part of the version makes no other of it.
  const now = version(dana)!;
  must(p.owners.change(signs(), sign, p.values("signs", { note: "x" }), null));
  must(dana.accept(accept(p), sign, now));
});

it("is nobody's without a grant, of another company, signed out, or who cannot read all of it", () => {
  const seen = version(dana)!;
  for (const d of [rafe, wren, pim, p.visitor()]) expect(d.accept(accept(p), sign, seen).ok).toBe(false);
  expect([version(rafe), version(pim), version(p.visitor())]).toEqual([null, null, null]);
  must(dana.accept(accept(p), sign, seen));
  expect([list(rafe), list(pim), list(p.visitor())]).toEqual([[], [], []]);
});

it("is not taken back", () => {
  const { event } = must(dana.accept(accept(p), sign, version(dana)!));
  expect(dana.undoAct(event)).toEqual({ ok: false, error: "gone" });
});

it("stays with the agency once the record is another company's", () => {
  must(dana.accept(accept(p), sign, version(dana)!));
  must(p.owners.change(signs(), sign, { [p.field("signs", "project")]: p.project("Two") }, null));
  expect([list(rafe), list(dana)]).toEqual([[], []]);
  expect(p.owners.acceptances(signs(), sign, [accept(p)])).toHaveLength(1);
});

it("says what would make one wrong", () => {
  const { accepts, ...without } = accept(p);
  const { schema } = p.owners;
  expect(actProblems(without, schema)).toEqual(["The act I accept accepts nothing."]);
  expect(actProblems({ ...accept(p), on: "change" }, schema)).toEqual(["The act I accept accepts nothing."]);
  expect(actProblems({ ...accept(p), accepts: ["gone"] }, schema)[0]).toContain("not there");
  expect(actProblems({ ...accept(p), accepts: [p.field("signs", "lit"), ...accepts!] }, schema)[0]).toContain("sets what it accepts");
});
