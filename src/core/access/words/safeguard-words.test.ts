/** Safeguards as sentences: who, what, of which table, and what is gone named as gone. */
import { describe, expect, it } from "vitest";
import type { Claim, Subject } from "../safeguards";
import { breachWords, type SafeguardNames, safeguardSentence } from "./safeguard-words";

const known: Readonly<Record<string, string>> = {
  lead: "Lead",
  ash: "Ash Dental",
  dana: "Dana Reed",
  signs: "Signs",
  cost: "Cost",
  project: "Project",
  company: "Company",
};
const name = (id: string): string | undefined => known[id];
const names: SafeguardNames = { role: name, company: name, person: name, table: name, field: name, ways: (t) => (t === "signs" ? 2 : 1) };
const says = (subject: Subject, claim: Claim, table = "signs"): string => safeguardSentence({ subject, claim, table }, names);

const clients: Subject = { kind: "side", side: "client" };
const nothing = (action: "see" | "add" | "change" | "remove" | "export"): Claim => ({ kind: "nothing", action });

describe("a safeguard", () => {
  it("that forbids begins with nobody", () => {
    expect(says(clients, nothing("see"))).toBe("No client sees any record of Signs.");
    expect(says({ kind: "side", side: "agency" }, nothing("remove"))).toBe("Nobody of the agency removes any record of Signs.");
    expect(says({ kind: "side", side: "visitor" }, nothing("export"))).toBe("No visitor downloads any record of Signs.");
    expect(says({ kind: "role", role: "lead" }, nothing("add"))).toBe("Nobody as Lead adds any record to Signs.");
    expect(says({ kind: "company", company: "ash" }, nothing("change"))).toBe("Nobody of Ash Dental changes any record of Signs.");
    expect(says({ kind: "person", person: "dana", company: null }, nothing("see"))).toBe("Dana Reed never sees any record of Signs.");
    expect(says({ kind: "person", person: "dana", company: "ash" }, nothing("see"))).toBe(
      "Dana Reed, acting for Ash Dental, never sees any record of Signs.",
    );
  });
  it("about a field says whether it is read or set", () => {
    expect(says(clients, { kind: "field", action: "see", field: "cost" })).toBe("No client reads Cost of Signs.");
    expect(says(clients, { kind: "field", action: "change", field: "cost" })).toBe("No client sets Cost of Signs.");
  });
  it("about other companies names the way only where there is a choice", () => {
    const others: Claim = { kind: "others", action: "see", way: ["project", "company"] };
    expect(says(clients, others)).toBe("No client sees a record of Signs that is another company's by Project › Company.");
    expect(says(clients, others, "project")).toBe("No client sees a record of Project that is another company's.");
  });
  it("about a number speaks of everybody, and of one record in the singular", () => {
    const count = (n: number): Claim => ({ kind: "count", bound: "at most", n });
    expect(says(clients, count(1))).toBe("Every client sees at most 1 record of Signs.");
    expect(says({ kind: "role", role: "lead" }, count(1_200))).toBe("Everybody as Lead sees at most 1,200 records of Signs.");
    expect(safeguardSentence({ subject: clients, claim: count(1_200), table: "signs" }, names, "de-DE")).toContain("1.200");
    expect(says({ kind: "person", person: "dana", company: null }, count(0))).toBe("Dana Reed sees at most 0 records of Signs.");
  });
  it("about what is gone says that it is", () => {
    expect(says({ kind: "role", role: "x" }, nothing("see"), "y")).toBe("Nobody as a removed role sees any record of a removed table.");
    expect(says({ kind: "person", person: "x", company: "y" }, { kind: "field", action: "see", field: "z" })).toBe(
      "A removed person, acting for a removed company, never reads a removed field of Signs.",
    );
  });
});

describe("what somebody does against it", () => {
  const of = (c: Claim, adds = false): string => breachWords(c, 1_308, adds, "signs", "Cost", "en-GB");
  it("is a verb and a number in the portal's locale", () => {
    expect(of(nothing("see"))).toBe("sees 1,308");
    expect(of(nothing("export"))).toBe("may download 1,308");
    expect(of({ kind: "others", action: "change", way: [] })).toBe("may change 1,308");
    expect(of({ kind: "count", bound: "exactly", n: 2 })).toBe("sees 1,308");
    expect(of({ kind: "field", action: "see", field: "cost" })).toBe("reads it on 1,308 of signs");
    expect(of({ kind: "field", action: "change", field: "cost" })).toBe("may set it on 1,308 of signs");
  });
  it("has no number where it is adding", () => {
    expect(of(nothing("add"), true)).toBe("may add to signs");
    expect(of({ kind: "field", action: "change", field: "cost" }, true)).toBe("may set Cost when adding to signs");
  });
});
