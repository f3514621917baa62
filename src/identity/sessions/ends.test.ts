/** What ends with what: sessions that outlive the reason that they were begun for are how somebody stays in who should be out. */

import { expect, it } from "vitest";
import { control } from "@/data/file/open";
import { setUntil } from "@/data/people/account";
import { setStatus } from "@/data/people/people";
import { ownFolder } from "@/testing/folder";
import { testPortal } from "@/testing/portal";
import { TEMPORARY_LASTS } from "../doors/password";
import { signInWithPassword, storePassword } from "../entering/sign-in";
import { beginStaffSession, officeSession } from "../office/sessions";
import { REHEARSED, takeTicket, writeTicket } from "../requests/see-as";
import { makeLink, takeStandingBack } from "../secrets/links";
import { tokenHash } from "../secrets/secrets";
import { endOtherSessions, endSession, findSession, startBeside, startSession } from "./sessions";

ownFolder();
const NOW = Date.parse("2026-06-15T12:00:00Z");
const HOUR = 3_600_000;
const HERE = { address: "192.0.2.1", device: null };
const world = () => {
  const p = testPortal({ grants: [{ roles: ["lead"], table: "sites" }] });
  return { p, file: p.file, id: p.person("Dana", "One", "lead").viewer.person!.id };
};

it("a standing link that is taken back takes its sessions with it, and no others", () => {
  const { file, id } = world();
  makeLink(file, id, "standing", NOW);
  const [standing, other] = [startSession(file, id, null, NOW, "standing"), startSession(file, id, null, NOW, "password")];
  expect(takeStandingBack(file, id)).toBe(true);
  expect([findSession(file, standing, NOW), findSession(file, other, NOW)?.personId]).toEqual([undefined, id]);
});

it("a session inside another site's frame ends with the one that made it, however that ends", () => {
  for (const end of [
    (file: Parameters<typeof endSession>[0], token: string) => endSession(file, token),
    (file: Parameters<typeof endSession>[0], _: string, id: string) => void endOtherSessions(file, id, ""),
  ]) {
    const { file, id } = world();
    const token = startSession(file, id, null, NOW);
    const framed = startBeside(file, tokenHash(token), NOW, HOUR)!;
    expect(findSession(file, framed, NOW)?.personId).toBe(id);
    end(file, token, id);
    expect(findSession(file, framed, NOW)).toBeUndefined();
  }
});

it("a temporary password opens nothing after fourteen days, and that is said to who gave it alone", async () => {
  const { file, id } = world();
  await storePassword(file, id, "a temporary one, handed over", true, NOW);
  const given = (password: string, at: number) => signInWithPassword(file, "dana@t.example", password, HERE, at);
  expect((await given("a temporary one, handed over", NOW + TEMPORARY_LASTS - 1)).ok).toBe(true);
  const late = NOW + TEMPORARY_LASTS + 1;
  expect(await given("a temporary one, handed over", late)).toEqual({ ok: false, error: { code: "temporary-over" } });
  expect(await given("another one, guessed by somebody", late)).toEqual({ ok: false, error: { code: "wrong" } });
});

it("whose account has ended is told so once they gave the right password, and nobody else is", async () => {
  const { p, file, id } = world();
  await storePassword(file, id, "nine blue herons wade by", false, NOW);
  setUntil(file, p.owner, id, "2026-06-20");
  const given = (password: string) => signInWithPassword(file, "dana@t.example", password, HERE, Date.parse("2026-06-22T12:00:00Z"));
  expect(await given("nine blue herons wade by")).toEqual({ ok: false, error: { code: "ended" } });
  expect(await given("nine blue herons wade off")).toEqual({ ok: false, error: { code: "wrong" } });
  setStatus(file, { kind: "system", id: "test" }, id, "expired", NOW);
  expect(await given("nine blue herons wade by")).toEqual({ ok: false, error: { code: "ended" } });
});

it("a session of staff ends twelve hours after it was last used, and after fourteen days in any case", () => {
  control().db.exec("INSERT INTO staff (id, email, name, hash, created_at) VALUES ('s', 's@agency.example', 'Sam', 'x', '2026')");
  const token = beginStaffSession("s", NOW);
  let at = NOW;
  for (let i = 0; i < 28; i++) {
    at += 11.9 * HOUR;
    expect([i, officeSession(token, at)?.staff.id]).toEqual([i, "s"]);
  }
  expect(officeSession(token, at + 11.9 * HOUR)).toBeUndefined(); // the fifteenth day
  const idle = beginStaffSession("s", NOW);
  expect([officeSession(idle, NOW + 11.9 * HOUR)?.staff.id, officeSession(idle, NOW + 24 * HOUR)]).toEqual(["s", undefined]);
});

it("a ticket to look as somebody says so, and is none to be them in a rehearsal", () => {
  const look = writeTicket("portal", { personId: "p", membershipId: null, session: "an office session" }, NOW);
  const be = writeTicket("portal", { personId: "p", membershipId: null, session: REHEARSED }, NOW);
  expect([takeTicket("portal", look, NOW)?.session === REHEARSED, takeTicket("portal", be, NOW)?.session === REHEARSED]).toEqual([
    false,
    true,
  ]);
});
