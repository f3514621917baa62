/** What is signed or sealed is worth something in its portal, for its purpose and time alone. */
import { describe, expect, it } from "vitest";
import { portalFile } from "@/data/file/open";
import { islands, NOW } from "@/testing/islands";
import { readSeeAs, SEE_AS_LASTS, seeAsCookie, takeTicket, writeTicket } from "../requests/see-as";
import { personViewer } from "../viewers/viewer";
import { readCursor, writeCursor } from "./cursor";
import { mac, macMatches } from "./secrets";

const here = islands();
describe("signed things", () => {
  it("secrets differ by portal and purpose", () => {
    expect(macMatches("one", "link", "x", mac("one", "link", "x"))).toBe(true);
    for (const [p, why] of [
      ["two", "link"],
      ["one", "cursor"],
    ])
      expect(macMatches(p!, why!, "x", mac("one", "link", "x"))).toBe(false);
  });
  it("see-as cookies last half an hour, in their portal", () => {
    const cookie = seeAsCookie("one", { personId: "p", membershipId: null, session: "s" }, NOW);
    expect(readSeeAs("one", cookie, NOW)).toMatchObject({ personId: "p", membershipId: null, session: "s" });
    expect([
      readSeeAs("two", cookie, NOW),
      readSeeAs("one", cookie, NOW + SEE_AS_LASTS),
      readSeeAs("one", `${cookie}x`, NOW),
      readSeeAs("one", "a.b", NOW),
    ]).toEqual([undefined, undefined, undefined, undefined]);
  });
  it("a ticket to see-as is good once, for a minute, in its portal", () => {
    const seeAs = { personId: "p", membershipId: "m", session: "s" };
    const [used, old, strange] = [1, 2, 3].map(() => writeTicket("one", seeAs, NOW));
    expect(takeTicket("one", used!, NOW + 59_000)).toEqual(seeAs);
    expect([
      takeTicket("one", used!, NOW),
      takeTicket("one", old!, NOW + 60_000),
      takeTicket("two", strange!, NOW),
      takeTicket("one", strange!, NOW), // shown to another portal, it is spent
      takeTicket("one", "guess", NOW),
    ]).toEqual(Array(5).fill(undefined));
  });
  it("see-as looks through a handle that SQLite itself does not let write", () => {
    const readOnly = portalFile("one", true)!;
    expect(() => readOnly.db.exec("DELETE FROM sys_sessions")).toThrow("readonly");
  });
  it("cursors are bound to viewer and query", () => {
    const [a, b] = [here.person(), here.person()].map((p) => personViewer(here.file, p.id, null, NOW)!);
    const cursor = writeCursor("one", a!, "q", ["x", 1, null]);
    expect(readCursor("one", a!, "q", cursor)).toEqual(["x", 1, null]);
    expect([
      readCursor("one", b!, "q", cursor),
      readCursor("one", a!, "other", cursor),
      readCursor("two", a!, "q", cursor),
      readCursor("one", a!, "q", "zzz"),
    ]).toEqual([undefined, undefined, undefined, undefined]);
  });
});
