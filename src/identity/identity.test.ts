/** The list of tests that signing-in decisions ask for, as far as this version goes. See README.md in this folder. */

import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Owner } from "@/core/access/viewer";
import { system } from "@/core/events/event";
import { type PortalFile, portalFile } from "@/data/file/open";
import { createPortal, movePortal } from "@/data/installation/portals";
import { addCompany, addPerson, membershipsOf, setStatus } from "@/data/people/people";
import { PUBLISHER } from "@/testing/world";
import { readCursor, writeCursor } from "./cursor";
import { deviceOf, deviceToken } from "./device";
import { countTry, type From, limitsOf, sweepTries, waitFor } from "./limits";
import { LASTS, lookAtLink, makeLink, redeemLink } from "./links";
import { accountOf, passwordProblem, temporaryPassword } from "./passwords";
import { mac, macMatches } from "./secrets";
import { readSeeAs, SEE_AS_LASTS, seeAsCookie, takeTicket, writeTicket } from "./see-as";
import { endOneOf, findSession, sessionsOf, startSession } from "./sessions";
import { choosePassword, passwordState, signInWithLink, signInWithPassword, storePassword } from "./sign-in";
import { ownerViewer, personViewer } from "./viewer";

const HERE: From = { address: "192.0.2.1", device: null };
const NOW = Date.UTC(2026, 5, 1, 12);
const folder = mkdtempSync(join(tmpdir(), "elkhorn-identity-"));
let file: PortalFile;
let owner: Owner;
let n = 0;

beforeAll(() => {
  process.env.ELKHORN_DATA = folder;
  const made = createPortal("one", "One", PUBLISHER);
  createPortal("two", "Two", PUBLISHER);
  if ("problem" in made) throw new Error(made.problem);
  file = made.file;
  owner = ownerViewer({ id: "o", name: "Owner" }, NOW);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function person(): { id: string; email: string } {
  const email = `p${++n}@client.example`;
  const company = addCompany(file, owner, `Client ${n}`);
  if (!company.ok) throw new Error(company.error.message);
  const p = addPerson(file, owner, { name: `Person ${n}`, email, memberships: [{ companyId: company.value.id, roles: ["lead"] }] });
  if (!p.ok) throw new Error(p.error.message);
  return { id: p.value.id, email };
}

describe("sessions", () => {
  it("are stored as a hash, end by idleness and absolutely, and at once with the person", () => {
    const p = person();
    setStatus(file, system("test"), p.id, "active", NOW);
    const token = startSession(file, p.id, null, NOW);
    expect(JSON.stringify(file.db.prepare("SELECT * FROM sys_sessions").all())).not.toContain(token);
    expect(findSession(file, token, NOW + 6 * 86_400_000)?.personId).toBe(p.id);
    expect(findSession(file, token, NOW + 14 * 86_400_000)).toBeUndefined(); // idle for eight days
    for (let day = 12; day < 30; day += 6) findSession(file, token, NOW + day * 86_400_000);
    expect(findSession(file, token, NOW + 31 * 86_400_000)).toBeUndefined();
    const second = startSession(file, p.id, null, NOW);
    setStatus(file, system("test"), p.id, "inactive", NOW);
    expect(findSession(file, second, NOW)).toBeUndefined();
  });
  it("move last seen at the grain of a minute", () => {
    const token = startSession(file, person().id, null, NOW);
    const seen = () => file.db.prepare("SELECT max(seen_at) FROM sys_sessions WHERE seen_at >= ?").pluck().get(NOW);
    findSession(file, token, NOW + 30_000);
    expect(seen()).toBe(NOW);
    findSession(file, token, NOW + 61_000);
    expect(seen()).toBe(NOW + 61_000);
  });
});

it("where one is signed in is listed for oneself, and ended by oneself alone", () => {
  const [p, other] = [person(), person()];
  const [first, second, theirs] = [
    startSession(file, p.id, null, NOW),
    startSession(file, p.id, null, NOW + 5, "link"),
    startSession(file, other.id, null, NOW),
  ];
  const open = sessionsOf(file, p.id, NOW + 10);
  expect(open.map((s) => [s.since, s.via])).toEqual([
    [NOW + 5, "link"],
    [NOW, "password"],
  ]);
  expect(sessionsOf(file, p.id, NOW + 8 * 86_400_000)).toEqual([]); // idle for too long
  expect(endOneOf(file, other.id, open[0]!.hash)).toBe(false);
  expect(endOneOf(file, p.id, open[0]!.hash)).toBe(true);
  expect([first, second, theirs].map((t) => findSession(file, t, NOW + 10) !== undefined)).toEqual([true, false, true]);
});

describe("links", () => {
  it("work once; looking uses nothing up", async () => {
    const p = person();
    const token = makeLink(file, p.id, "invitation", NOW);
    expect([lookAtLink(file, token, NOW).state, lookAtLink(file, token, NOW).state]).toEqual(["good", "good"]);
    expect((await signInWithLink(file, token, HERE, NOW)).ok).toBe(true);
    expect(personViewer(file, p.id, null, NOW)?.person?.status).toBe("active");
    expect(redeemLink(file, token, NOW).state).toBe("used");
  });
  it("a newer one supersedes; an old one is over; a forged one is unknown", async () => {
    const p = person();
    const first = makeLink(file, p.id, "invitation", NOW);
    const second = makeLink(file, p.id, "invitation", NOW);
    expect([lookAtLink(file, first, NOW).state, lookAtLink(file, second, NOW).state]).toEqual(["replaced", "good"]);
    expect(lookAtLink(file, second, NOW + LASTS.invitation).state).toBe("over");
    for (const bad of [second.slice(0, -1), second.replace(".2.", ".3."), "x", "..", `${first.split(".")[0]}.2.${first.split(".")[2]}`])
      expect(lookAtLink(file, bad, NOW).state).toBe("unknown");
  });
  it("of one portal mean nothing in another; nobody inactive gets in by one", async () => {
    const p = person();
    const token = makeLink(file, p.id, "invitation", NOW);
    expect(lookAtLink(portalFile("two")!, token, NOW).state).toBe("unknown");
    setStatus(file, system("test"), p.id, "inactive", NOW);
    expect(await signInWithLink(file, token, HERE, NOW)).toEqual({ ok: false, error: { code: "link", state: "unknown" } });
  });
});

it("a portal may move to another address: its sessions, links and secrets are called by its id, which stays", () => {
  const made = createPortal("before", "Moving", PUBLISHER);
  if ("problem" in made) throw new Error(made.problem);
  const added = addPerson(made.file, owner, { name: "Mo", email: "mo@x.example", memberships: [] });
  if (!added.ok) throw new Error(added.error.message);
  const session = startSession(made.file, added.value.id, null, NOW);
  const link = makeLink(made.file, added.value.id, "invitation", NOW);
  expect(movePortal(owner, "before", "one")).toBe("There is a portal at one already.");
  expect(movePortal(owner, "before", "www")).toContain("small letters");
  expect(movePortal(owner, "before", "after")).toBeNull();
  expect(portalFile("before")).toBeUndefined();
  const moved = portalFile("after")!;
  expect([moved.id, findSession(moved, session, NOW)?.personId]).toEqual([made.file.id, added.value.id]);
  expect(lookAtLink(moved, link, NOW).state).toBe("good");
});

describe("passwords", () => {
  it("temporary ones force a new, different one, and other sessions end with it", async () => {
    const p = person();
    const given = temporaryPassword();
    await storePassword(file, p.id, given, true, NOW);
    const done = await signInWithPassword(file, p.email.toUpperCase(), given, HERE, NOW);
    expect(done.ok && passwordState(file, p.id)).toBe("temporary");
    if (!done.ok) return;
    const session = findSession(file, done.value.token, NOW)!;
    const elsewhere = startSession(file, p.id, membershipsOf(file, p.id)[0]!.id, NOW);
    const choose = (password: string, present = "", s = session) => choosePassword(file, s, { password, present }, HERE, NOW);
    expect(await choose(given)).toMatchObject({ error: { password: expect.stringContaining("differs") } });
    const chosen = await choose("seven slow green herons");
    if (!chosen.ok) throw new Error(JSON.stringify(chosen.error));
    // The token is renewed: neither the one that was nor one from elsewhere opens anything.
    const { token } = chosen.value;
    expect(token).not.toBe(done.value.token);
    const states = [elsewhere, done.value.token, token].map((x) => findSession(file, x, NOW)?.personId);
    expect([passwordState(file, p.id), states]).toEqual(["own", [undefined, undefined, p.id]]);
    // From now on the present one is asked for.
    const now = findSession(file, token, NOW)!;
    expect(await choose("eight slow green herons", "", now)).toEqual({
      ok: false,
      error: { present: "This is not your present password." },
    });
    expect(await choose("seven slow green herons", "seven slow green herons", now)).toMatchObject({
      error: { password: expect.stringContaining("differs") },
    });
    expect((await choose("eight slow green herons", "seven slow green herons", now)).ok).toBe(true);
  });
  // NIST SP 800-63B-4, section 3.1.1.2: at least 15 characters as the only factor, no rules of composition, a blocklist.
  it.each([
    ["fourteen chars", false],
    ["fifteen chars !", true],
    ["123456789987654321", false],
    ["aaaaaaaaaaaaaaaaaaaa", false],
    ["ünïcödé words are fine", true],
    ["person-one@client", false],
  ])("%s", (password, fine) => expect(passwordProblem(password, ["Person One", "person-one@client.example"]) === null).toBe(fine));
  it("wrong, unknown and inactive read the same", async () => {
    const p = person();
    await storePassword(file, p.id, "a perfectly good one", false, NOW);
    setStatus(file, system("test"), p.id, "inactive", NOW);
    for (const [email, password] of [
      [p.email, "a perfectly good one"],
      [p.email, "wrong"],
      ["nobody@client.example", "x"],
    ])
      expect(await signInWithPassword(file, email!, password!, HERE, NOW)).toEqual({ ok: false, error: { code: "wrong" } });
  });
  it("guesses wait longer and longer, whether or not the address is known", async () => {
    for (const [n, email] of [person().email, "unknown@client.example"].entries()) {
      const answers: string[] = [];
      const from = { address: `198.51.100.${n}`, device: null };
      for (let i = 0; i < 7; i++) {
        const a = await signInWithPassword(file, email, `guess ${i}`, from, NOW + i);
        answers.push(a.ok ? "in" : a.error.code);
      }
      expect(answers).toEqual(["wrong", "wrong", "wrong", "wrong", "wrong", "too-many", "too-many"]);
    }
    const limits = limitsOf("account x", HERE);
    for (let i = 0; i < 30; i++) countTry(file.orm, limits, NOW);
    expect(waitFor(file.orm, limits, NOW)).toBe(15 * 60_000);
    expect(waitFor(file.orm, limits, NOW + 25 * 3600_000)).toBe(0);
  });

  it("a stranger keeps nobody out: not from elsewhere, and never for long; a device that was in before waits for nobody", async () => {
    const p = person();
    await storePassword(file, p.id, "a perfectly good one", false, NOW);
    const enter = async (from: From, password = "a perfectly good one", now = NOW) => {
      const a = await signInWithPassword(file, p.email, password, from, now);
      return a.ok ? "in" : a.error.code;
    };
    const stranger = { address: "203.0.113.9", device: null };
    for (let i = 0; i < 30; i++) await enter(stranger, "guess");
    const home = { address: "192.0.2.77", device: null };
    expect([await enter(stranger), await enter(home)]).toEqual(["too-many", "in"]);
    // From hundreds of addresses at once: its person waits half a minute at the most, and on their own device not at all.
    const account = accountOf(p.email);
    for (let i = 0; i < 400; i++) countTry(file.orm, limitsOf(account, { address: `far ${i}`, device: null }), NOW);
    expect(waitFor(file.orm, limitsOf(account, home), NOW)).toBeLessThanOrEqual(30_000);
    expect(await enter({ ...home, address: "192.0.2.78" })).toBe("too-many");
    const cookie = deviceToken(file.id, account);
    const device = deviceOf(file.id, account, cookie);
    expect(await enter({ address: "far 1", device })).toBe("in");
    // It is of this account and this portal, and guesses from it are counted, too.
    const made = [
      deviceOf("two", account, cookie),
      deviceOf(file.id, "account other", cookie),
      deviceOf(file.id, account, `${cookie}x`),
      deviceOf(file.id, account, undefined),
    ];
    expect(made).toEqual([null, null, null, null]);
    for (let i = 0; i < 6; i++) await enter({ address: "far 1", device }, "guess");
    expect(await enter({ address: "far 1", device })).toBe("too-many");
  });

  it("where a proxy was not named, nobody waits long for what another behind it did", () => {
    const limits = limitsOf("account behind", { address: "unclear", device: null });
    for (let i = 0; i < 200; i++) countTry(file.orm, limits, NOW);
    expect(waitFor(file.orm, limits, NOW)).toBe(30_000);
  });

  it("one address tries few accounts; who signs in from it does not use its tries up", async () => {
    const from = { address: "2001:db8:1:2::/64", device: null };
    const p = person();
    await storePassword(file, p.id, "a perfectly good one", false, NOW);
    for (let i = 0; i < 60; i++) expect((await signInWithPassword(file, p.email, "a perfectly good one", from, NOW)).ok).toBe(true);
    for (let i = 0; i < 40; i++) countTry(file.orm, limitsOf(`account made-up ${i}`, from), NOW);
    expect(await signInWithPassword(file, "one-more@x.example", "guess", from, NOW)).toMatchObject({ error: { code: "too-many" } });
  });

  it("what strangers make up does not fill the disk, and says nothing of whom they tried", () => {
    const rows = (): number => file.db.prepare("SELECT count(*) FROM sys_attempts").pluck().get() as number;
    const put = file.db.prepare("INSERT INTO sys_attempts VALUES (?, 1, ?)");
    file.db.transaction(() => {
      for (let i = 0; i < 25_000; i++) put.run(`made up ${i}`, NOW + i);
    })();
    sweepTries(file.orm, NOW + 25_000);
    expect(rows()).toBeLessThanOrEqual(20_000);
    sweepTries(file.orm, NOW + 26 * 3600_000);
    expect(rows()).toBe(0);
    countTry(file.orm, limitsOf(accountOf("somebody@x.example"), HERE), NOW);
    expect(JSON.stringify(file.db.prepare("SELECT * FROM sys_attempts").all())).not.toMatch(/somebody|192\.0/);
  });

  it("a few passwords are checked at once, the others in turn; a crowd is told to come again, and nobody is let in by it", async () => {
    const p = person();
    await storePassword(file, p.id, "a perfectly good one", false, NOW);
    const device = deviceOf(file.id, accountOf(p.email), deviceToken(file.id, accountOf(p.email)));
    // What stands for the password of somebody unknown is made once, by whoever is first.
    await signInWithPassword(file, "nobody@x.example", "whatever it is", { address: "elsewhere", device: null }, NOW);
    const tries = await Promise.all(
      Array.from({ length: 90 }, (_, i) =>
        signInWithPassword(file, p.email, "a perfectly good one", { address: `a ${i}`, device: `${device}${i}` }, NOW),
      ),
    );
    const answers = tries.map((a) => (a.ok ? "in" : a.error.code));
    expect([answers.filter((a) => a === "in").length, answers.filter((a) => a === "too-many").length]).toEqual([62, 28]);
    expect((await signInWithPassword(file, p.email, "a perfectly good one", HERE, NOW)).ok).toBe(true);
  });
});

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
    const [a, b] = [person(), person()].map((p) => personViewer(file, p.id, null, NOW)!);
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
