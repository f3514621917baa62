/** Sessions, and the links that begin them: what they open, until when, and that another portal knows nothing of them. */
import { describe, expect, it } from "vitest";
import { system } from "@/core/events/event";
import { portalFile } from "@/data/file/open";
import { createPortal, movePortal } from "@/data/installation/portals";
import { addPerson, setStatus } from "@/data/people/people";
import { islands, NOW } from "@/testing/islands";
import { PUBLISHER } from "@/testing/world";
import { signInWithLink } from "../entering/sign-in";
import type { From } from "../limits/limits";
import { LASTS, lookAtLink, makeLink, redeemLink } from "../secrets/links";
import { personViewer } from "../viewers/viewer";
import { endOneOf, findSession, sessionsOf, startSession } from "./sessions";

const HERE: From = { address: "192.0.2.1", device: null };
const here = islands();
describe("sessions", () => {
  it("are stored as a hash, end by idleness and absolutely, and at once with the person", () => {
    const p = here.person();
    setStatus(here.file, system("test"), p.id, "active", NOW);
    const token = startSession(here.file, p.id, null, NOW);
    expect(JSON.stringify(here.file.db.prepare("SELECT * FROM sys_sessions").all())).not.toContain(token);
    expect(findSession(here.file, token, NOW + 6 * 86_400_000)?.personId).toBe(p.id);
    expect(findSession(here.file, token, NOW + 14 * 86_400_000)).toBeUndefined(); // idle for eight days
    for (let day = 12; day < 30; day += 6) findSession(here.file, token, NOW + day * 86_400_000);
    expect(findSession(here.file, token, NOW + 31 * 86_400_000)).toBeUndefined();
    const second = startSession(here.file, p.id, null, NOW);
    setStatus(here.file, system("test"), p.id, "inactive", NOW);
    expect(findSession(here.file, second, NOW)).toBeUndefined();
  });
  it("move last seen at the grain of a minute", () => {
    const token = startSession(here.file, here.person().id, null, NOW);
    const seen = () => here.file.db.prepare("SELECT max(seen_at) FROM sys_sessions WHERE seen_at >= ?").pluck().get(NOW);
    findSession(here.file, token, NOW + 30_000);
    expect(seen()).toBe(NOW);
    findSession(here.file, token, NOW + 61_000);
    expect(seen()).toBe(NOW + 61_000);
  });
});

it("where one is signed in is listed for oneself, and ended by oneself alone", () => {
  const [p, other] = [here.person(), here.person()];
  const [first, second, theirs] = [
    startSession(here.file, p.id, null, NOW),
    startSession(here.file, p.id, null, NOW + 5, "link"),
    startSession(here.file, other.id, null, NOW),
  ];
  const open = sessionsOf(here.file, p.id, NOW + 10);
  expect(open.map((s) => [s.since, s.via])).toEqual([
    [NOW + 5, "link"],
    [NOW, "password"],
  ]);
  expect(sessionsOf(here.file, p.id, NOW + 8 * 86_400_000)).toEqual([]); // idle for too long
  expect(endOneOf(here.file, other.id, open[0]!.hash)).toBe(false);
  expect(endOneOf(here.file, p.id, open[0]!.hash)).toBe(true);
  expect([first, second, theirs].map((t) => findSession(here.file, t, NOW + 10) !== undefined)).toEqual([true, false, true]);
});

describe("links", () => {
  it("work once; looking uses nothing up", async () => {
    const p = here.person();
    const token = makeLink(here.file, p.id, "invitation", NOW);
    expect([lookAtLink(here.file, token, NOW).state, lookAtLink(here.file, token, NOW).state]).toEqual(["good", "good"]);
    expect((await signInWithLink(here.file, token, HERE, NOW)).ok).toBe(true);
    expect(personViewer(here.file, p.id, null, NOW)?.person?.status).toBe("active");
    expect(redeemLink(here.file, token, NOW).state).toBe("used");
  });
  it("a newer one supersedes; an old one is over; a forged one is unknown", async () => {
    const p = here.person();
    const first = makeLink(here.file, p.id, "invitation", NOW);
    const second = makeLink(here.file, p.id, "invitation", NOW);
    expect([lookAtLink(here.file, first, NOW).state, lookAtLink(here.file, second, NOW).state]).toEqual(["replaced", "good"]);
    expect(lookAtLink(here.file, second, NOW + LASTS.invitation).state).toBe("over");
    for (const bad of [second.slice(0, -1), second.replace(".2.", ".3."), "x", "..", `${first.split(".")[0]}.2.${first.split(".")[2]}`])
      expect(lookAtLink(here.file, bad, NOW).state).toBe("unknown");
  });
  it("of one portal mean nothing in another; nobody inactive gets in by one", async () => {
    const p = here.person();
    const token = makeLink(here.file, p.id, "invitation", NOW);
    expect(lookAtLink(portalFile("two")!, token, NOW).state).toBe("unknown");
    setStatus(here.file, system("test"), p.id, "inactive", NOW);
    expect(await signInWithLink(here.file, token, HERE, NOW)).toEqual({ ok: false, error: { code: "link", state: "unknown" } });
  });
});

it("a portal may move to another address: its sessions, links and secrets are called by its id, which stays", () => {
  const made = createPortal("before", "Moving", PUBLISHER);
  if ("problem" in made) throw new Error(made.problem);
  const added = addPerson(made.file, here.owner, { name: "Mo", email: "mo@x.example", memberships: [] });
  if (!added.ok) throw new Error(added.error.message);
  const session = startSession(made.file, added.value.id, null, NOW);
  const link = makeLink(made.file, added.value.id, "invitation", NOW);
  expect(movePortal(here.owner, "before", "one")).toBe("There is a portal at one already.");
  expect(movePortal(here.owner, "before", "www")).toContain("small letters");
  expect(movePortal(here.owner, "before", "after")).toBeNull();
  expect(portalFile("before")).toBeUndefined();
  const moved = portalFile("after")!;
  expect([moved.id, findSession(moved, session, NOW)?.personId]).toEqual([made.file.id, added.value.id]);
  expect(lookAtLink(moved, link, NOW).state).toBe("good");
});
