/** Joining by oneself, and what leads do: nothing before the address is confirmed, all of it or nothing, and nothing of another company. */

import { createHash } from "node:crypto";
import { describe, expect, it } from "vitest";
import { CLOSED, type Joining } from "@/core/joining/joining";
import type { PortalFile } from "@/data/file/open";
import { outbox } from "@/data/messages/outbox";
import { addMembership, membershipsOf, personFacts, personIdByEmail } from "@/data/people/people";
import { joinToken } from "@/identity/secrets/join-links";
import { findSession } from "@/identity/sessions/sessions";
import { personViewer } from "@/identity/viewers/viewer";
import { letterOf } from "@/letters/send";
import { ownFolder } from "@/testing/folder";
import { testPortal } from "@/testing/portal";
import { decide, decideColleague, waitingCount, waitingList } from "./approval";
import { companyDesk } from "./company-page";
import { companySettings, keepCompanySettings } from "./company-settings";
import { type AskedToJoin, answerJoin, confirmJoin, lookAtJoin, sweepJoins, wantToJoin } from "./joining";
import { joining, keepJoining } from "./settings";

ownFolder();

const HERE = { address: "192.0.2.1", device: null };
const ASKED: AskedToJoin = {
  email: "Wren@newcomer.example",
  name: "Wren Alder",
  kind: "company",
  company: "Alder & Sons",
  values: {},
  wrote: "",
  agreed: false,
  read: 1,
};
const count = (file: PortalFile, table: string): number => Number(file.db.prepare(`SELECT count(*) FROM ${table}`).pluck().get());

function open(more: Partial<Joining> = {}) {
  const p = testPortal({ grants: [{ roles: ["member"], table: "sites" }] });
  const s: Joining = { ...CLOSED, who: "anybody", approval: false, kinds: ["company", "member", "alone"], lead: "lead", ...more };
  const kept = keepJoining(p.file, p.owner, s);
  if (!kept.ok) throw new Error(kept.error);
  return { p, now: p.owner.now };
}
/** Asks, and answers the link's token; undefined where nothing came. */
function ask(o: ReturnType<typeof open>, more: Partial<AskedToJoin> = {}): string | undefined {
  const done = wantToJoin(o.p.file, { ...ASKED, ...more }, HERE, o.now);
  if (!done.ok) throw new Error(JSON.stringify(done.error));
  const id = o.p.file.db.prepare("SELECT id FROM sys_joins ORDER BY rowid DESC LIMIT 1").pluck().get() as string | undefined;
  if (!id) return undefined;
  answerJoin(o.p.file, id, o.now);
  const m = outbox(o.p.file, o.p.owner, { page: 1 }).list.find((x) => x.occasion === "join" && x.linkId === id);
  return m && /\/-\/join\/(\S+)/.exec(letterOf(o.p.file, m, o.now)!.text)![1];
}

describe("joining", () => {
  it("makes nothing before the link, and then all of it: person, company, membership, session, with an address of its own", () => {
    const o = open();
    const had = [count(o.p.file, "t_people"), count(o.p.file, "t_companies")];
    const token = ask(o)!;
    expect(lookAtJoin(o.p.file, token, o.now)).toEqual({ name: "Wren Alder", email: "wren@newcomer.example" });
    expect([count(o.p.file, "t_people"), count(o.p.file, "t_companies")]).toEqual(had);
    const done = confirmJoin(o.p.file, token, o.now);
    if (!done.ok) throw new Error(done.error);
    expect(done.value).toMatchObject({ waits: false, withCompany: true, step: "in" });
    expect(personFacts(o.p.file, done.value.personId)).toMatchObject({ name: "Wren Alder", status: "active" });
    const [m] = membershipsOf(o.p.file, done.value.personId);
    expect([m!.companyName, m!.roles]).toEqual(["Alder & Sons", ["lead"]]);
    expect(m!.companySlug).toMatch(/^alder-and-sons-[0-9a-f]{6}$/);
    expect(findSession(o.p.file, done.value.token, o.now)?.personId).toBe(done.value.personId);
    expect([confirmJoin(o.p.file, token, o.now), lookAtJoin(o.p.file, token, o.now)]).toEqual([{ ok: false, error: "gone" }, undefined]);
  });
  it("of two at the same moment one makes it; an old, forged or foreign link makes nothing", () => {
    const o = open();
    const [first, second] = [ask(o)!, ask(o)!];
    expect([confirmJoin(o.p.file, first, o.now).ok, confirmJoin(o.p.file, second, o.now)]).toEqual([true, { ok: false, error: "known" }]);
    const late = ask(o, { email: "late@newcomer.example" })!;
    expect(confirmJoin(o.p.file, late, o.now + 25 * 3_600_000)).toEqual({ ok: false, error: "gone" });
    for (const bad of ["", "x.y", `${late}x`, late.replace(/^../, "zz")]) expect(confirmJoin(o.p.file, bad, o.now).ok).toBe(false);
    sweepJoins(o.p.file, o.now + 25 * 3_600_000);
    expect(o.p.file.db.prepare("SELECT count(*) FROM sys_joins WHERE state = 'asked'").pluck().get()).toBe(0);
    expect(joinToken(o.p.file, "x")).not.toBe(joinToken({ ...o.p.file, id: "other" as never }, "x"));
  });
  it("the answer is the same for who is known; the mail tells them, and no second person is made", () => {
    const o = open();
    const dana = o.p.person("Dana", "One", "lead").viewer.person!;
    expect(ask(o, { email: "dana@t.example" })).toBeUndefined();
    const [m] = outbox(o.p.file, o.p.owner, { page: 1, person: dana.id }).list;
    expect(m!.occasion).toBe("join-known");
    expect(count(o.p.file, "sys_joins")).toBe(1);
  });
  it("domains: others are told which are taken; only who is known: nobody else is written to", () => {
    const o = open({ who: "domains", domains: ["client.example"] });
    expect(wantToJoin(o.p.file, ASKED, HERE, o.now)).toMatchObject({
      ok: false,
      error: { email: "Addresses of client.example are taken here." },
    });
    expect(ask(o, { email: "wren@client.example" })).toBeDefined();
    const known = open({ who: "known" });
    expect(ask(known, { company: "" })).toBeUndefined();
    expect(outbox(known.p.file, known.p.owner, { page: 1 }).total).toBe(0);
    const closed = testPortal({ grants: [] });
    expect(wantToJoin(closed.file, ASKED, HERE, 0).ok).toBe(false);
  });
  it("a link that was sent does nothing any more once the portal is closed to it", () => {
    const o = open();
    const token = ask(o)!;
    keepJoining(o.p.file, o.p.owner, { ...joining(o.p.file), who: "nobody" });
    expect(confirmJoin(o.p.file, token, o.now)).toEqual({ ok: false, error: "gone" });
    expect(personIdByEmail(o.p.file, "wren@newcomer.example")).toBeUndefined();
  });
  it("fields that are not asked for are dropped and told, whatever the request carries; what the owner sets is set", () => {
    const o = open();
    const done = wantToJoin(
      o.p.file,
      { ...ASKED, values: { f_person_status: ["active"], roles: ["owner"], f_person_companies: ["x"], id: ["1"] } },
      HERE,
      o.now,
    );
    expect(done.ok).toBe(true);
    expect(o.p.file.db.prepare('SELECT "values" FROM sys_joins').pluck().get()).toBe("{}");
    expect(o.p.file.db.prepare("SELECT detail FROM sys_events WHERE act = 'join-asked'").pluck().get()).toContain("f_person_status");
    expect(keepJoining(o.p.file, o.p.owner, { ...joining(o.p.file), fields: ["f_person_status"] }).ok).toBe(false);
    expect(keepJoining(o.p.file, o.p.owner, { ...joining(o.p.file), lead: "everything" }).ok).toBe(false);
  });
  it("terms are agreed to by version, with the hash of what they said", () => {
    const o = open({ terms: "Be kind." });
    expect(wantToJoin(o.p.file, ASKED, HERE, o.now)).toMatchObject({ ok: false, error: { terms: expect.any(String) } });
    const token = ask(o, { agreed: true })!;
    keepJoining(o.p.file, o.p.owner, { ...joining(o.p.file), terms: "Be kinder." });
    // What somebody has not read they agree to by no form that was open before.
    expect(wantToJoin(o.p.file, { ...ASKED, email: "late@newcomer.example", agreed: true, read: 1 }, HERE, o.now)).toMatchObject({
      ok: false,
      error: { terms: expect.stringContaining("have changed") },
    });
    expect(confirmJoin(o.p.file, token, o.now).ok).toBe(true);
    const hash = createHash("sha256").update("Be kind.").digest("hex");
    expect(o.p.file.db.prepare("SELECT version, hash, at FROM sys_agreements").all()).toEqual([{ version: 1, hash, at: o.now }]);
    expect(count(o.p.file, "sys_terms")).toBe(2);
  });
  it("a stranger who goes on asking is written to no more, without a word", () => {
    const o = open();
    for (let i = 0; i < 60; i++) expect(wantToJoin(o.p.file, { ...ASKED, email: `made-up-${i}@x.example` }, HERE, o.now + i).ok).toBe(true);
    expect(count(o.p.file, "sys_joins")).toBeLessThan(45);
  });
});

describe("approval", () => {
  it("who waits is let in to nothing; a yes gives a company and roles and is told by mail, a no as well", () => {
    const o = open({ approval: true });
    const wren = confirmJoin(o.p.file, ask(o, { kind: "member", wrote: "From the Pellhaven branch" })!, o.now);
    const ada = confirmJoin(o.p.file, ask(o, { email: "ada@newcomer.example" })!, o.now);
    if (!wren.ok || !ada.ok) throw new Error("not in");
    expect([wren.value.waits, membershipsOf(o.p.file, wren.value.personId)]).toEqual([true, []]);
    expect(personViewer(o.p.file, wren.value.personId, null, o.now)?.person?.status).toBe("awaiting approval");
    expect(waitingCount(o.p.file, o.p.owner)).toBe(waitingList(o.p.file, o.p.owner).length);
    expect(waitingList(o.p.file, o.p.owner).map((w) => [w.kind, w.wrote])).toEqual([
      ["member", "From the Pellhaven branch"],
      ["company", ""],
    ]);
    const { viewer } = o.p.person("Dana", "One", "lead");
    const yes = { yes: true, note: "Welcome.", companyId: viewer.company!.id, roles: ["lead"] };
    expect(decide(o.p.file, o.p.owner, wren.value.personId, { ...yes, roles: ["no such role"] }).ok).toBe(false);
    expect(personFacts(o.p.file, wren.value.personId)?.status).toBe("awaiting approval");
    expect(decide(o.p.file, o.p.owner, wren.value.personId, yes).ok).toBe(true);
    expect(decide(o.p.file, o.p.owner, ada.value.personId, { yes: false, note: "Not now.", companyId: null, roles: [] }).ok).toBe(true);
    expect([personFacts(o.p.file, wren.value.personId)?.status, personFacts(o.p.file, ada.value.personId)?.status]).toEqual([
      "active",
      "inactive",
    ]);
    expect(findSession(o.p.file, ada.value.token, o.now)).toBeUndefined();
    const sent = outbox(o.p.file, o.p.owner, { page: 1 }).list.map((m) => m.occasion);
    expect([sent.includes("approved"), sent.includes("declined"), waitingList(o.p.file, o.p.owner)]).toEqual([true, true, []]);
    expect(decide(o.p.file, o.p.owner, wren.value.personId, yes)).toEqual({ ok: false, error: "They wait no more." });
  });
});

describe("the company's own page", () => {
  function led() {
    const o = open();
    keepCompanySettings(o.p.file, o.p.owner, { leads: ["lead"], give: ["member"], seats: 3, seatsOf: {} });
    const lead = o.p.person("Dana", "One", "lead").viewer;
    const member = o.p.person("Abel", "One", "member").viewer;
    const other = o.p.person("Olga", "Two", "lead").viewer;
    const desk = (v = lead) => companyDesk(o.p.file, personViewer(o.p.file, v.person!.id, null, o.now)!);
    const of = (v: typeof lead) => membershipsOf(o.p.file, v.person!.id)[0]!;
    return { ...o, lead, member, other, desk, of };
  }
  it("is a lead's alone, and never while somebody looks as them", () => {
    const l = led();
    expect([
      l.desk() !== null,
      l.desk(l.member),
      companyDesk(l.p.file, personViewer(l.p.file, l.lead.person!.id, null, l.now, "see-as")!),
    ]).toEqual([true, null, null]);
    expect(
      l
        .desk()!
        .list()
        .map((c) => c.name)
        .sort(),
    ).toEqual(["Abel", "Dana"]);
  });
  it("invites within seats and ceiling; somebody known elsewhere is asked for at the agency, and that is not told", () => {
    const l = led();
    expect(l.desk()!.invite("Nia", "nia@one.example", "lead")).toMatchObject({ ok: false, error: { field: "role" } });
    expect(l.desk()!.invite("Olga", "olga@t.example", "member")).toEqual({ ok: true, value: null });
    expect(
      l
        .desk()!
        .list()
        .find((c) => c.email === "olga@t.example"),
    ).toMatchObject({ status: "invited", roles: ["member"], mine: true });
    expect(membershipsOf(l.p.file, l.other.person!.id)).toHaveLength(1);
    expect(l.desk()!.invite("Nia", "nia@one.example", "member")).toMatchObject({
      ok: false,
      error: { message: expect.stringContaining("All 3 seats") },
    });
    const [w] = waitingList(l.p.file, l.p.owner);
    // Meanwhile the agency has let them in there as something else: a yes drops nothing of that.
    addMembership(l.p.file, l.p.owner, l.other.person!.id, l.lead.company!.id, ["lead"]);
    expect(decideColleague(l.p.file, l.p.owner, w!.joinId!, true).ok).toBe(true);
    expect(membershipsOf(l.p.file, l.other.person!.id).map((m) => m.roles)).toEqual([["lead"], ["lead", "member"]]);
    expect(decideColleague(l.p.file, l.p.owner, w!.joinId!, true).ok).toBe(false);
  });
  it("somebody known elsewhere and somebody known nowhere stand there alike, and what is done with them answers alike", () => {
    const l = led();
    keepCompanySettings(l.p.file, l.p.owner, { ...companySettings(l.p.file), seats: null });
    const d = l.desk()!;
    expect([d.invite("Olga", "olga@t.example", "member"), d.invite("Nia", "nia@new.example", "member")].map((x) => x.ok)).toEqual([
      true,
      true,
    ]);
    const of = (email: string) =>
      l
        .desk()!
        .list()
        .find((c) => c.email === email)!;
    const alike = (email: string) => {
      const { membershipId, name: _, email: __, ...rest } = of(email);
      return [typeof membershipId, membershipId.length, rest];
    };
    expect(alike("olga@t.example")).toEqual(alike("nia@new.example"));
    for (const email of ["olga@t.example", "nia@new.example"]) {
      expect([email, l.desk()!.setRoles(of(email).membershipId, ["god"])]).toEqual([email, "Choose among the roles that you may give."]);
      expect([email, l.desk()!.setRoles(of(email).membershipId, ["member"])]).toEqual([email, null]);
      expect([email, l.desk()!.handOver(of(email).membershipId)]).toEqual([email, expect.stringContaining("have not signed in yet")]);
      expect([
        email,
        l.desk()!.takeOut(of(email).membershipId),
        l
          .desk()!
          .list()
          .some((c) => c.email === email),
      ]).toEqual([email, null, false]);
    }
    expect(waitingList(l.p.file, l.p.owner)).toEqual([]);
  });
  it("reaches nobody of another company, not oneself, nobody above the ceiling", () => {
    const l = led();
    const d = l.desk()!;
    const problems = [
      d.setRoles(l.of(l.other).id, ["member"]),
      d.takeOut(l.of(l.other).id),
      d.handOver(l.of(l.other).id),
      d.takeOut(l.of(l.lead).id),
      d.setRoles(l.of(l.lead).id, ["member"]),
      d.setRoles(l.of(l.member).id, ["lead"]),
      d.setRoles(l.of(l.member).id, []),
      d.takeOut("nobody"),
    ];
    expect(problems.every((p) => p !== null)).toBe(true);
    expect([l.of(l.other).roles, l.of(l.lead).roles, l.of(l.member).roles]).toEqual([["lead"], ["lead"], ["member"]]);
  });
  it("takes out at once; hands the lead over to who is in, and is a lead no more", () => {
    const l = led();
    expect(l.desk()!.handOver(l.of(l.member).id)).toBeNull();
    expect([l.desk(), l.desk(l.member) !== null, l.of(l.lead).roles]).toEqual([null, true, ["member"]]);
    expect(l.desk(l.member)!.takeOut(l.of(l.lead).id)).toBeNull();
    expect(personFacts(l.p.file, l.lead.person!.id)?.status).toBe("inactive");
  });
});
