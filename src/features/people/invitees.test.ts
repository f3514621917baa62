/** People brought in from a list and invited: who is new, who is there, what is left out and why; account and way in together or not at all. */
import { describe, expect, it } from "vitest";
import type { Invitee } from "@/core/exchange/invitees";
import { membershipsOf, personFacts, personIdByEmail, setStatus } from "@/data/people/people";
import { passwordState } from "@/identity/entering/sign-in";
import { testPortal } from "@/testing/portal";
import { passwordsFor } from "./invitations";
import { bringIn, type InviteesAsk, lookAtInvitees } from "./invitees";

const FREE = { whyNot: () => null, made: () => {} };
const ask = (more: Partial<InviteesAsk> = {}): InviteesAsk => ({
  company: "",
  make: false,
  roles: ["lead"],
  by: "link",
  send: true,
  note: "",
  ...more,
});
const row = (line: number, email: string, more: Partial<Invitee> = {}): Invitee => ({
  line,
  name: email.split("@")[0]!,
  email,
  company: "Ash",
  roles: [],
  password: "",
  again: null,
  ...more,
});
const portal = () => {
  const p = testPortal({ grants: [{ roles: ["lead", "fitter"], table: "projects" }] });
  p.company("Ash");
  return p;
};

describe("a list of people", () => {
  it("is looked at row by row before anything is written", () => {
    const p = portal();
    p.person("Dana", "Ash", "lead");
    const gone = p.person("Gone", "Ash", "lead").viewer.person!.id;
    setStatus(p.file, { kind: "system", id: null } as never, gone, "inactive", p.owner.now);
    const look = (r: Invitee, how = ask()) => lookAtInvitees(p.file, p.owner, [r], how)[0];
    expect(look(row(2, "new@t.example"))).toEqual({ line: 2, state: "new", why: "", makes: null });
    expect(look(row(3, "DANA@t.example"))).toMatchObject({ state: "there", why: "Dana" });
    expect(look(row(4, "gone@t.example"))).toMatchObject({ state: "wrong", why: "Gone is inactive." });
    expect(look(row(5, "nobody"))).toMatchObject({ why: "“nobody” is no e-mail address." });
    expect(look(row(6, "x@t.example", { again: 2 }))).toMatchObject({ why: "The same address stands on line 2." });
    expect(look(row(7, "x@t.example", { company: "Elm" }))).toMatchObject({ why: "No company is called Elm." });
    expect(look(row(7, "x@t.example", { company: "Elm" }), ask({ make: true }))).toMatchObject({ state: "new", makes: "Elm" });
    expect(look(row(8, "x@t.example", { company: "" }))).toMatchObject({ why: "It says no company." });
    expect(look(row(8, "x@t.example", { company: "" }), ask({ company: "agency" }))).toMatchObject({
      why: expect.stringContaining("no role there"),
    });
    expect(look(row(9, "x@t.example", { roles: ["King"] }))).toMatchObject({ why: "There is no role King of companies." });
    expect(look(row(10, "x@t.example", { password: "short" }))).toMatchObject({ why: expect.stringContaining("at least 15") });
    expect(personIdByEmail(p.file, "new@t.example")).toBeUndefined();
  });

  it("is brought in and invited; who is there keeps name and roles, and gets another place", async () => {
    const p = portal();
    p.person("Dana", "Ash", "lead");
    const done = await bringIn(
      p.file,
      p.owner,
      "Rosalind",
      [
        row(2, "ada@t.example", { company: "Elm", roles: ["fitter"] }),
        row(3, "ben@t.example", { company: "elm" }),
        row(4, "dana@t.example", { company: "Elm", name: "Somebody" }),
        row(5, "wrong"),
      ],
      ask({ make: true }),
      FREE,
    );
    expect(done).toMatchObject({ invited: 3, handed: [], left: [{ line: 5, why: "“wrong” is no e-mail address." }] });
    const [ada, ben, dana] = ["ada", "ben", "dana"].map((x) => personIdByEmail(p.file, `${x}@t.example`)!);
    expect(membershipsOf(p.file, ada!)).toMatchObject([{ companyName: "Elm", roles: ["fitter"] }]);
    expect(membershipsOf(p.file, ben!)).toMatchObject([{ companyName: "Elm", roles: ["lead"] }]);
    expect(membershipsOf(p.file, dana!).map((m) => [m.companyName, m.roles])).toEqual([
      ["Ash", ["lead"]],
      ["Elm", ["lead"]],
    ]);
    expect(personFacts(p.file, dana!)?.name).toBe("Dana");
    expect(p.file.db.prepare("SELECT count(*) FROM sys_messages WHERE batch = ? AND state = 'waiting'").pluck().get(done.batch)).toBe(3);
    // More of the same act go under the same batch.
    const more = await bringIn(p.file, p.owner, "Rosalind", [row(6, "cy@t.example")], ask({ send: false }), FREE, done.batch);
    expect(more.batch).toBe(done.batch);
    expect(p.file.db.prepare("SELECT count(*) FROM sys_messages WHERE batch = ?").pluck().get(done.batch)).toBe(4);
  });

  it("passwords are taken from the list or made, never mailed, and never of somebody who has one of their own", async () => {
    const p = portal();
    const dana = p.person("Dana", "Ash", "lead").viewer.person!.id;
    p.file.db.prepare("INSERT INTO sys_credentials VALUES (?, 'own', 0, '2026-01-01')").run(dana);
    const done = await bringIn(
      p.file,
      p.owner,
      "Rosalind",
      [row(2, "ada@t.example", { password: "seven brown herons wade" }), row(3, "ben@t.example"), row(4, "dana@t.example")],
      ask({ by: "password" }),
      FREE,
    );
    expect(done.handed.map((h) => h.email)).toEqual(["ada@t.example", "ben@t.example"]);
    expect(done.handed[0]!.password).toBe("seven brown herons wade");
    expect(done.handed[1]!.password.length).toBeGreaterThan(15);
    expect(done.left).toEqual([{ line: 4, name: "dana", why: "Dana has a password of their own." }]);
    expect(passwordState(p.file, personIdByEmail(p.file, "ben@t.example")!)).toBe("temporary");
    expect(p.file.db.prepare("SELECT count(*) FROM sys_messages").pluck().get()).toBe(0);
    const many = await passwordsFor(p.file, p.owner, [dana, personIdByEmail(p.file, "ben@t.example")!, "nobody"], FREE);
    expect(many).toMatchObject({ given: [{ email: "ben@t.example" }], left: [{ name: "Dana", why: "has a password of their own" }] });
  });
});
