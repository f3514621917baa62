/** An act taken back, history as its reader may know it, and a form that adds once: each tried from another company and a lesser role. */
import { beforeEach, describe, expect, it } from "vitest";
import type { Act } from "@/core/access/act";
import { doingOf } from "@/core/access/rules";
import { must, type TestPortal, testPortal } from "@/testing/portal";
import type { Desk } from "../desk";
import { addOnce } from "./sent-once";
import { UNDO_LASTS } from "./undo-act";

let p: TestPortal;
let dana: Desk; // One, lead
let rafe: Desk; // Two, lead
let wren: Desk; // One: sees the code alone, and more once a sign is lit
let sign: string;

const approve = (x: TestPortal): Act => ({
  id: "approve",
  name: "Approve",
  table: x.table("signs").id,
  on: "change",
  sets: [{ field: x.field("signs", "lit"), to: { kind: "literal", value: true } }],
});

beforeEach(() => {
  p = testPortal({
    grants: [
      { roles: ["lead"], table: "signs", actions: ["see", "add", "change"], changes: ["code", "project", "note"] },
      { roles: ["lead"], table: "projects" },
      { roles: ["lead"], table: "signs", actions: [], acts: ["approve"] },
      { roles: ["looker"], table: "signs", fields: ["code"] },
    ],
    acts: (x) => [approve(x)],
  });
  dana = p.person("Dana", "One", "lead");
  rafe = p.person("Rafe", "Two", "lead");
  wren = p.person("Wren", "One", "looker");
  sign = p.add("signs", { code: "N1", project: p.project("One"), lit: false });
});
const signs = () => p.table("signs");
const lit = () => p.owners.read(signs(), sign)!.fields[p.field("signs", "lit")];
const later = (d: Desk, ms: number): Desk => p.desk({ ...d.viewer, now: d.viewer.now + ms } as typeof d.viewer);

describe("taking back an act", () => {
  it("is for whoever did it, once, and for ten minutes", () => {
    const { event } = must(dana.act(approve(p), sign));
    expect(lit()).toBe(true);
    for (const other of [rafe, wren, p.visitor()]) expect(other.undoAct(event)).toEqual({ ok: false, error: "gone" });
    expect(later(dana, UNDO_LASTS + 1).undoAct(event)).toEqual({ ok: false, error: "gone" });
    must(dana.undoAct(event));
    expect(lit()).toBe(false);
    expect(dana.undoAct(event)).toEqual({ ok: false, error: "gone" });
  });
  it("undoes no other act of the log, and nothing that was changed meanwhile", () => {
    const { event } = must(dana.act(approve(p), sign));
    must(dana.change(signs(), sign, p.values("signs", { note: "Mine" }), null));
    const change = (p.file.db.prepare("SELECT max(id) AS id FROM sys_events").get() as { id: number }).id;
    expect(dana.undoAct(change)).toEqual({ ok: false, error: "gone" });
    must(p.owners.change(signs(), sign, p.values("signs", { lit: false }), null));
    expect(dana.undoAct(event)).toEqual({ ok: false, error: "changed" });
    expect(p.owners.read(signs(), sign)!.fields[p.field("signs", "note")]).toBe("Mine");
  });
  it("a control is shown on those records alone on which it would work", () => {
    const theirs = p.add("signs", { code: "N2", project: p.project("Two") });
    const on = (d: Desk, field?: string) => [...d.whereMay(signs(), field ? "change" : doingOf(approve(p)), [sign, theirs], field)];
    expect([on(dana), on(rafe), on(wren), on(p.visitor())]).toEqual([[sign], [theirs], [], []]);
    expect([on(dana, p.field("signs", "note")), on(dana, p.field("signs", "lit")), on(wren, p.field("signs", "note"))]).toEqual([
      [sign],
      [],
      [],
    ]);
  });
});

describe("history", () => {
  const told = (d: Desk) => d.history(signs(), sign).map((h) => h.changes.map((c) => [p.schema.field(c.field).slug, c.before, c.after]));

  it("tells what happened in the fields that the reader sees, newest first", () => {
    must(dana.change(signs(), sign, p.values("signs", { note: "First" }), null));
    must(dana.change(signs(), sign, p.values("signs", { code: "N1b", note: "Second" }), null));
    expect(told(dana).slice(0, 2)).toEqual([
      [
        ["code", "N1", "N1b"],
        ["note", "First", "Second"],
      ],
      [["note", null, "First"]],
    ]);
    expect(told(wren)[0]).toEqual([["code", "N1", "N1b"]]);
    expect(
      told(wren)
        .flat()
        .some(([slug]) => slug === "note"),
    ).toBe(false);
  });
  it("nothing of it reaches another company, a visitor, or whoever has it from the agency's time with somebody else", () => {
    must(dana.change(signs(), sign, p.values("signs", { note: "For One alone" }), null));
    expect([told(rafe), told(p.visitor())]).toEqual([[], []]);
    must(dana.change(signs(), sign, p.values("signs", { note: "As it came to Two" }), null));
    must(p.owners.change(signs(), sign, p.values("signs", { project: p.project("Two") }), null));
    must(rafe.change(signs(), sign, p.values("signs", { note: "Now ours" }), null));
    expect(JSON.stringify(told(rafe))).not.toContain("For One alone");
    // What stood in it when it came is theirs to read, as it was on the record itself.
    expect(told(rafe)).toEqual([[["note", "As it came to Two", "Now ours"]]]);
    expect(told(dana)).toEqual([]);
    expect(JSON.stringify(told(p.owners))).toContain("For One alone");
  });
});

describe("one filling-in", () => {
  it("adds once, however often it arrives; under the same id of somebody else it is another's", () => {
    const send = (d: Desk, key: string, code: string) =>
      addOnce(d, key, () => d.add(signs(), p.values("signs", { code, project: d === rafe ? p.project("Two") : p.project("One") })));
    const first = must(send(dana, "k1", "A"));
    expect(must(send(dana, "k1", "A"))).toEqual({ id: first.id, again: true });
    expect(must(send(dana, "k2", "A")).again).toBe(false);
    const other = must(send(rafe, "k1", "A"));
    expect([other.again, other.id === first.id]).toEqual([false, false]);
    // What was refused is tried anew.
    expect(send(wren, "k3", "B").ok).toBe(false);
    expect(p.owners.count(signs())).toBe(4);
  });
});
