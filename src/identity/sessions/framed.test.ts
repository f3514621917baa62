import { expect, test } from "vitest";
import { ownFolder } from "@/testing/folder";
import { testPortal } from "@/testing/portal";
import { approveFrame, beginInFrame, FRAMED_LASTS, frameWaits, takeFramed } from "./framed";
import { byFreshLink, endSessionOf, findSession, isFresh, startSession } from "./sessions";

ownFolder();

const DESK = "192.0.2.1";

function begun(from = DESK) {
  const p = testPortal({ grants: [{ roles: ["lead"], table: "projects" }] });
  const id = p.person("Dana", "Ash", "lead").viewer.person!.id;
  const { now } = p.owner;
  const session = findSession(p.file, startSession(p.file, id, null, now), now)!;
  return { p, id, now, session, b: beginInFrame(p.file, from, now)! };
}

test("a frame gets a session of its own once, for a working day, when its tab has let it in", () => {
  const { p, id, now, session, b } = begun();
  expect(takeFramed(p.file, b.code, b.secret, now)).toBe("waits");
  expect(frameWaits(p.file, b.code, now)).toBe(true);
  expect(approveFrame(p.file, session, b, DESK, now)).toEqual({ ok: true, value: null });
  expect(frameWaits(p.file, b.code, now)).toBe(false);
  // The code alone, which stood in an address, opens nothing.
  expect(takeFramed(p.file, b.code, b.code, now)).toBe("over");
  const taken = takeFramed(p.file, b.code, b.secret, now) as { token: string };
  const framed = findSession(p.file, taken.token, now)!;
  expect([framed.personId, framed.hash === session.hash]).toEqual([id, false]);
  expect(findSession(p.file, taken.token, now + FRAMED_LASTS)).toBeUndefined();
  expect(takeFramed(p.file, b.code, b.secret, now)).toBe("over");
  expect(approveFrame(p.file, session, b, DESK, now)).toEqual({ ok: false, error: "over" });
});

test("it is as old as the session that let it in: nothing is opened by it that asks for having just signed in", () => {
  const p = testPortal({ grants: [{ roles: ["lead"], table: "projects" }] });
  const id = p.person("Dana", "Ash", "lead").viewer.person!.id;
  const { now } = p.owner;
  const later = now + 2 * 3_600_000;
  const session = findSession(p.file, startSession(p.file, id, null, now, "link"), later)!;
  const b = beginInFrame(p.file, DESK, later)!;
  expect(approveFrame(p.file, session, b, DESK, later).ok).toBe(true);
  const framed = findSession(p.file, (takeFramed(p.file, b.code, b.secret, later) as { token: string }).token, later)!;
  expect([isFresh(p.file, framed, later), byFreshLink(p.file, framed, later)]).toEqual([false, false]);
  // Nor does one begin by a session that has ended since.
  const c = beginInFrame(p.file, DESK, later)!;
  expect(approveFrame(p.file, session, c, DESK, later).ok).toBe(true);
  endSessionOf(p.file, session);
  expect(takeFramed(p.file, c.code, c.secret, later)).toBe("over");
});

test("three wrong numbers end it", () => {
  const { p, now, session, b } = begun();
  const wrong = { ...b, number: b.number === "10" ? "11" : "10" };
  const say = () => approveFrame(p.file, session, wrong, DESK, now);
  expect([say(), say(), say()].map((x) => !x.ok && x.error)).toEqual(["wrong", "wrong", "over"]);
  expect(approveFrame(p.file, session, b, DESK, now)).toEqual({ ok: false, error: "over" });
  expect(takeFramed(p.file, b.code, b.secret, now)).toBe("over");
});

test("somebody else's code from another place lets nobody in, though they type the number", () => {
  const { p, now, session, b } = begun("2001:db8:1:2::7");
  expect(approveFrame(p.file, session, b, "2001:db8:9:2::7", now)).toEqual({ ok: false, error: "over" });
  expect(approveFrame(p.file, session, b, "2001:db8:1:2:3::9", now).ok).toBe(true);
});

test("it is over after ten minutes, and means nothing in another portal", () => {
  const { p, now, session, b } = begun();
  expect(approveFrame(p.file, session, b, DESK, now + 11 * 60_000)).toEqual({ ok: false, error: "over" });
  expect(takeFramed(begun().p.file, b.code, b.secret, now)).toBe("over");
});
