/** A link that stays: in again and again where its door is open, each use noted, and nothing that outlasts it. */

import { describe, expect, it } from "vitest";
import { personFacts } from "@/data/people/people";
import { ownFolder } from "@/testing/folder";
import { testPortal } from "@/testing/portal";
import { linkDoor } from "../doors/link";
import { AT_FIRST, keepDoors } from "../doors/settings";
import { standingDoor, USED_STANDING } from "../doors/standing";
import type { From } from "../limits/limits";
import { makeLink, standingUntil, takeStandingBack } from "../secrets/links";
import { findSession, isFresh } from "../sessions/sessions";
import { comeIn } from "./enter";
import { choosePassword, signInWithLink } from "./sign-in";

ownFolder();

const FROM: From = { address: "192.0.2.1", device: null };

function wall(open = true) {
  const p = testPortal({ grants: [{ roles: ["lead"], table: "projects" }] });
  const id = p.person("Dana", "Ash", "lead").viewer.person!.id;
  const { now } = p.owner;
  if (open) keepDoors(p.file, p.owner, { ...AT_FIRST, open: [...AT_FIRST.open, "standing"] });
  const token = makeLink(p.file, id, "standing", now);
  return { p, id, now, token, come: (t = token, at = now) => signInWithLink(p.file, t, FROM, at) };
}

describe("a standing link", () => {
  it("lets its person in each time, notes each use, and lasts a year", async () => {
    const { p, id, now, come } = wall();
    for (const at of [now, now + 1_000]) expect(await come(undefined, at)).toMatchObject({ ok: true, value: { personId: id } });
    expect(p.file.db.prepare("SELECT count(*) FROM sys_events WHERE act = ? AND record_id = ?").pluck().get(USED_STANDING, id)).toBe(2);
    expect(standingUntil(p.file, id, now)).toBe(now + 365 * 86_400_000);
    expect(await come(undefined, now + 366 * 86_400_000)).toMatchObject({ ok: false, error: { code: "link", state: "over" } });
  });

  it("opens nothing where the door is shut, or for a role that asks for another", async () => {
    const shut = wall(false);
    expect(await shut.come()).toMatchObject({ ok: false, error: { code: "shut" } });
    const { p, come } = wall();
    keepDoors(p.file, p.owner, { ...AT_FIRST, open: [...AT_FIRST.open, "standing"], second: "everybody" });
    expect(await come()).toMatchObject({ ok: false, error: { code: "shut", open: [] } });
    keepDoors(p.file, p.owner, {
      ...AT_FIRST,
      open: [...AT_FIRST.open, "standing"],
      roles: { lead: { doors: ["password"], second: false } },
    });
    expect(await come()).toMatchObject({ ok: false, error: { code: "shut", open: ["password"] } });
  });

  it("is dead once taken back or replaced, and is neither an invitation nor the other way round", async () => {
    const { p, id, now, token, come } = wall();
    expect(await comeIn(p.file, linkDoor, { token }, FROM, now)).toMatchObject({ error: { state: "unknown" } });
    const invitation = makeLink(p.file, id, "invitation", now);
    expect(await comeIn(p.file, standingDoor, { token: invitation }, FROM, now)).toMatchObject({ error: { state: "unknown" } });
    const next = makeLink(p.file, id, "standing", now);
    expect(await come()).toMatchObject({ error: { state: "replaced" } });
    expect(await come(next)).toMatchObject({ ok: true });
    expect(takeStandingBack(p.file, id)).toBe(true);
    expect(await come(next)).toMatchObject({ error: { state: "withdrawn" } });
    expect(standingUntil(p.file, id, now)).toBeNull();
  });

  it("makes nothing that would outlast it: no password, and no other way in", async () => {
    const { p, id, now, come } = wall();
    const done = await come();
    const session = done.ok ? findSession(p.file, done.value.token, now) : undefined;
    if (!session) throw new Error("Nobody is in.");
    expect(isFresh(p.file, session, now)).toBe(false);
    const given = { password: "seven brown herons wade", present: "" };
    expect(await choosePassword(p.file, session, given, FROM, now)).toMatchObject({
      ok: false,
      error: { password: expect.stringContaining("link that stays") },
    });
    expect(personFacts(p.file, id)?.password).toBe("none");
  });
});
