/** Staff: asked in once, with a role that counts at once; an owner stays. */

import { Secret, TOTP } from "otpauth";
import { beforeAll, describe, expect, it } from "vitest";
import { mayInOffice, OFFICE_ROLES, RIGHTS } from "@/core/access/who/office";
import { control } from "@/data/file/open";
import { staffLog } from "@/data/installation/staff-log";
import { beginTotp, confirmTotp } from "@/identity/factors/second";
import { changeOwnPassword } from "@/identity/office/password";
import {
  addStaff,
  endStaffSessions,
  officeSecond,
  officeSession,
  officeSessionStands,
  officeShelf,
  officeSignIn,
  staffSessionsOf,
} from "@/identity/office/sessions";
import { ownerViewer } from "@/identity/viewers/viewer";
import { ownFolder } from "@/testing/folder";
import { acceptStaff, changeStaff, forgottenStaff, inviteStaff, staffInvited, staffList, withdrawStaff } from "./staff";

const NOW = Date.UTC(2026, 5, 1, 12);
const HERE = { address: "192.0.2.9", device: null };
const PASSWORD = "seven green herons wade";
const owner = ownerViewer({ id: "o", name: "Owner" }, NOW);
ownFolder();
beforeAll(async () => {
  await addStaff("Rosalind", "rosalind@agency.example", PASSWORD, NOW);
});

const invite = (name: string, role: string) => {
  const done = inviteStaff(owner, { name, email: `${name}@agency.example`, role });
  if (!done.ok) throw new Error(done.error.message);
  return done.value;
};
async function hired(name: string, role: string) {
  const { id, token } = invite(name, role);
  const done = await acceptStaff(token, PASSWORD, NOW);
  if (!done.ok) throw new Error(done.error);
  return { id, token: done.value.token };
}

describe("roles of the office", () => {
  it("an owner may all; a role that is not known may nothing; billing sees no records, support builds nothing", () => {
    expect(RIGHTS.filter((r) => mayInOffice("owner", r))).toEqual(RIGHTS);
    for (const r of RIGHTS) expect([mayInOffice("", r), mayInOffice("Owner", r), mayInOffice("admin", r)]).toEqual([false, false, false]);
    expect([
      mayInOffice("billing", "records"),
      mayInOffice("billing", "people"),
      mayInOffice("support", "build"),
      mayInOffice("builder", "staff"),
    ]).toEqual([false, false, false, false]);
    for (const role of OFFICE_ROLES) expect(mayInOffice(role, "overview")).toBe(true);
  });
});

describe("asking somebody in", () => {
  it("a link works once, a newer one ends it, nobody signs in before", async () => {
    const first = invite("abel", "support");
    const second = invite("abel", "builder");
    expect([staffInvited(first.token, NOW), staffInvited(second.token, NOW)?.name]).toEqual([undefined, "abel"]);
    expect(await officeSignIn("abel@agency.example", PASSWORD, HERE, NOW)).toEqual({ ok: false, error: { code: "wrong" } });
    expect((await acceptStaff(second.token, "short", NOW)).ok).toBe(false);
    const two = await Promise.all([1, 2].map(() => acceptStaff(second.token, PASSWORD, NOW)));
    expect(two.map((x) => x.ok).sort()).toEqual([false, true]);
    expect(staffInvited(second.token, NOW)).toBeUndefined();
    expect(staffInvited(invite("late", "support").token, NOW + 8 * 86_400_000)).toBeUndefined();
    expect(JSON.stringify(control().db.prepare("SELECT * FROM staff_invitations").all())).not.toContain(second.token);
  });
  it("bad input is told beside its cause; who works here already is not asked in again", () => {
    for (const [given, field] of [
      [{ name: " ", email: "x@y.example", role: "support" }, "name"],
      [{ name: "X", email: "x@@y", role: "support" }, "email"],
      [{ name: "X", email: "x@y.example", role: "god" }, "role"],
      [{ name: "X", email: " ROSALIND@agency.example", role: "support" }, "email"],
    ] as const)
      expect(inviteStaff(owner, given)).toMatchObject({ ok: false, error: { field } });
  });
  it("one that was not taken up is taken back", () => {
    const { id, token } = invite("bea", "support");
    expect(withdrawStaff(owner, id)).toBe(true);
    expect([staffInvited(token, NOW), withdrawStaff(owner, id)]).toEqual([undefined, false]);
  });
});

describe("who works here", () => {
  it("a role counts at once; inactive is out at once, from see-as too; the last owner stays", async () => {
    const cleo = await hired("cleo", "support");
    const session = officeSession(cleo.token, NOW)!;
    expect([session.staff.role, officeSessionStands(session.session, NOW)]).toEqual(["support", true]);
    expect(changeStaff(owner, cleo.id, { role: "billing" })).toBeNull();
    expect([officeSession(cleo.token, NOW)?.staff.role, officeSessionStands(session.session, NOW)]).toEqual(["billing", false]);
    expect(changeStaff(owner, cleo.id, { status: "inactive" })).toBeNull();
    expect(officeSession(cleo.token, NOW)).toBeUndefined();
    expect((await officeSignIn("cleo@agency.example", PASSWORD, HERE, NOW)).ok).toBe(false);
    const rosalind = staffList(owner).find((s) => s.name === "Rosalind")!;
    expect(changeStaff(owner, rosalind.id, { role: "support" })).toContain("At least one owner stays");
    expect(changeStaff(owner, rosalind.id, { status: "inactive" })).toContain("At least one owner stays");
    expect(changeStaff(owner, rosalind.id, { role: "god" })).toBe("Choose a role.");
    expect(changeStaff(owner, "nobody", { role: "owner" })).toContain("any more");
  });
  it("their second factor is asked for after the password, and a new password ends every other session", async () => {
    const dora = await hired("dora", "builder");
    const begun = beginTotp(officeShelf(), dora.id, { account: "dora", issuer: "Elkhorn" }, NOW);
    const code = (at: number) => new TOTP({ secret: Secret.fromBase32(begun.secret) }).generate({ timestamp: at });
    expect(confirmTotp(officeShelf(), dora.id, begun.id, code(NOW), NOW)).toHaveLength(10);
    const later = NOW + 60_000;
    const half = await officeSignIn("dora@agency.example", PASSWORD, HERE, later);
    if (!half.ok) throw new Error(half.error.code);
    expect([half.value.step, officeSession(half.value.token, later)]).toEqual(["second", undefined]);
    expect(officeSecond(half.value.token, "000000", { from: HERE, now: later, tell: () => {} }).ok).toBe(false);
    const inside = officeSecond(half.value.token, code(later), { from: HERE, now: later, tell: () => {} });
    if (!inside.ok) throw new Error(inside.error.code);
    expect([officeSession(inside.value.token, later)?.staff.name, officeSession(half.value.token, later, "second")]).toEqual([
      "dora",
      undefined,
    ]);
    const who = officeSession(inside.value.token, later)!.staff;
    expect(await changeOwnPassword(who, { present: "not it at all", password: "nine blue herons wade" }, HERE, later)).toMatchObject({
      error: { present: expect.any(String) },
    });
    expect(await changeOwnPassword(who, { present: PASSWORD, password: "short" }, HERE, later)).toMatchObject({
      error: { password: expect.any(String) },
    });
    const changed = await changeOwnPassword(who, { present: PASSWORD, password: "nine blue herons wade" }, HERE, later);
    expect(changed.ok && officeSession(changed.value.token, later)?.staff.id).toBe(dora.id);
    expect([officeSession(inside.value.token, later), officeSession(dora.token, later)]).toEqual([undefined, undefined]);
  });

  it("what staff did about staff is in their log, and one's sessions can be ended elsewhere", async () => {
    const asked = inviteStaff(owner, { name: "Log Er", email: "loger@a.example", role: "support" });
    if (!asked.ok) throw new Error("not asked");
    const done = await acceptStaff(asked.value.token, PASSWORD, NOW);
    if (!done.ok) throw new Error(done.error);
    expect(changeStaff(owner, asked.value.id, { role: "billing" })).toBeNull();
    const log = staffLog(owner).slice(0, 3);
    expect(log.map((e) => [e.by, e.says, e.detail])).toEqual([
      ["somebody who is gone", "gave a role", "Log Er, billing"],
      ["Log Er", "came in for the first time", ""],
      ["somebody who is gone", "asked in", "Log Er, support"],
    ]);
    const again = await officeSignIn("loger@a.example", PASSWORD, HERE, NOW);
    if (!again.ok) throw new Error("not in");
    const here = officeSession(again.value.token, NOW)!;
    expect(staffSessionsOf(asked.value.id, NOW)).toHaveLength(2);
    // Of somebody else nothing is ended by whoever knows the hash.
    endStaffSessions("another", here.session, "", NOW);
    expect(staffSessionsOf(asked.value.id, NOW)).toHaveLength(2);
    endStaffSessions(asked.value.id, "others", here.session, NOW);
    expect(staffSessionsOf(asked.value.id, NOW).map((s) => s.hash)).toEqual([here.session]);
    expect(officeSession(done.value.token, NOW)).toBeUndefined();
  });

  it("a forgotten password is replaced by a link to the address that is known, once; whoever was in by the former one is out", async () => {
    expect(forgottenStaff("nobody@a.example", NOW)).toBeUndefined();
    const asked = inviteStaff(owner, { name: "For Got", email: "forgot@a.example", role: "support" });
    if (!asked.ok) throw new Error("not asked");
    // Who has not come in yet has an invitation, and no password to forget.
    expect(forgottenStaff("forgot@a.example", NOW)).toBeUndefined();
    const first = await acceptStaff(asked.value.token, PASSWORD, NOW);
    if (!first.ok) throw new Error(first.error);
    const link = forgottenStaff(" FORGOT@a.example", NOW)!;
    expect(link).toMatchObject({ name: "For Got", email: "forgot@a.example" });
    expect(staffInvited(link.token, NOW + 31 * 60_000)).toBeUndefined();
    const next = await acceptStaff(link.token, "eight brown herons wade", NOW);
    expect(next).toMatchObject({ ok: true, value: { step: "in" } });
    expect(officeSession(first.value.token, NOW)).toBeUndefined();
    expect(await acceptStaff(link.token, "nine brown herons wade", NOW)).toMatchObject({ ok: false });
    expect(await officeSignIn("forgot@a.example", PASSWORD, HERE, NOW)).toMatchObject({ ok: false });
    // A second factor is asked for after it; somebody who is out is not let in by it.
    const begun = beginTotp(officeShelf(), asked.value.id, { account: "forgot@a.example", issuer: "T" }, NOW);
    confirmTotp(
      officeShelf(),
      asked.value.id,
      begun.id,
      new TOTP({ secret: Secret.fromBase32(begun.secret) }).generate({ timestamp: NOW }),
      NOW,
    );
    const again = forgottenStaff("forgot@a.example", NOW)!;
    const half = await acceptStaff(again.token, "ten brown herons wade about", NOW);
    expect(half).toMatchObject({ ok: true, value: { step: "second" } });
    expect(officeSession(half.ok ? half.value.token : "none", NOW)).toBeUndefined();
    const last = forgottenStaff("forgot@a.example", NOW)!;
    changeStaff(owner, asked.value.id, { status: "inactive" });
    expect(await acceptStaff(last.token, "eleven brown herons wade", NOW)).toMatchObject({ ok: false });
  });
});
