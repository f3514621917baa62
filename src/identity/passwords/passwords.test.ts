/** Passwords, and guessing them: what is refused alike, who waits, and who never does. */
import { describe, expect, it } from "vitest";
import { system } from "@/core/events/event";
import { membershipsOf, setStatus } from "@/data/people/people";
import { islands, NOW } from "@/testing/islands";
import { choosePassword, passwordState, signInWithPassword, storePassword } from "../entering/sign-in";
import { countTry, type From, limitsOf, sweepTries, waitFor } from "../limits/limits";
import { deviceOf, deviceToken } from "../secrets/device";
import { findSession, startSession } from "../sessions/sessions";
import { accountOf, passwordProblem, temporaryPassword } from "./passwords";

const HERE: From = { address: "192.0.2.1", device: null };
const here = islands();
describe("passwords", () => {
  it("temporary ones force a new, different one, and other sessions end with it", async () => {
    const p = here.person();
    const given = temporaryPassword();
    await storePassword(here.file, p.id, given, true, NOW);
    const done = await signInWithPassword(here.file, p.email.toUpperCase(), given, HERE, NOW);
    expect(done.ok && passwordState(here.file, p.id)).toBe("temporary");
    if (!done.ok) return;
    const session = findSession(here.file, done.value.token, NOW)!;
    const elsewhere = startSession(here.file, p.id, membershipsOf(here.file, p.id)[0]!.id, NOW);
    const choose = (password: string, present = "", s = session) => choosePassword(here.file, s, { password, present }, HERE, NOW);
    expect(await choose(given)).toMatchObject({ error: { password: expect.stringContaining("differs") } });
    const chosen = await choose("seven slow green herons");
    if (!chosen.ok) throw new Error(JSON.stringify(chosen.error));
    // The token is renewed: neither the one that was nor one from elsewhere opens anything.
    const { token } = chosen.value;
    expect(token).not.toBe(done.value.token);
    const states = [elsewhere, done.value.token, token].map((x) => findSession(here.file, x, NOW)?.personId);
    expect([passwordState(here.file, p.id), states]).toEqual(["own", [undefined, undefined, p.id]]);
    // From now on the present one is asked for.
    const now = findSession(here.file, token, NOW)!;
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
    const p = here.person();
    await storePassword(here.file, p.id, "a perfectly good one", false, NOW);
    setStatus(here.file, system("test"), p.id, "inactive", NOW);
    for (const [email, password] of [
      [p.email, "a perfectly good one"],
      [p.email, "wrong"],
      ["nobody@client.example", "x"],
    ])
      expect(await signInWithPassword(here.file, email!, password!, HERE, NOW)).toEqual({ ok: false, error: { code: "wrong" } });
  });
  it("guesses wait longer and longer, whether or not the address is known", async () => {
    for (const [n, email] of [here.person().email, "unknown@client.example"].entries()) {
      const answers: string[] = [];
      const from = { address: `198.51.100.${n}`, device: null };
      for (let i = 0; i < 7; i++) {
        const a = await signInWithPassword(here.file, email, `guess ${i}`, from, NOW + i);
        answers.push(a.ok ? "in" : a.error.code);
      }
      expect(answers).toEqual(["wrong", "wrong", "wrong", "wrong", "wrong", "too-many", "too-many"]);
    }
    const limits = limitsOf("account x", HERE);
    for (let i = 0; i < 30; i++) countTry(here.file.orm, limits, NOW);
    expect(waitFor(here.file.orm, limits, NOW)).toBe(15 * 60_000);
    expect(waitFor(here.file.orm, limits, NOW + 25 * 3600_000)).toBe(0);
  });

  it("a stranger keeps nobody out: not from elsewhere, and never for long; a device that was in before waits for nobody", async () => {
    const p = here.person();
    await storePassword(here.file, p.id, "a perfectly good one", false, NOW);
    const enter = async (from: From, password = "a perfectly good one", now = NOW) => {
      const a = await signInWithPassword(here.file, p.email, password, from, now);
      return a.ok ? "in" : a.error.code;
    };
    const stranger = { address: "203.0.113.9", device: null };
    for (let i = 0; i < 30; i++) await enter(stranger, "guess");
    const home = { address: "192.0.2.77", device: null };
    expect([await enter(stranger), await enter(home)]).toEqual(["too-many", "in"]);
    // From hundreds of addresses at once: its person waits half a minute at the most, and on their own device not at all.
    const account = accountOf(p.email);
    for (let i = 0; i < 400; i++) countTry(here.file.orm, limitsOf(account, { address: `far ${i}`, device: null }), NOW);
    expect(waitFor(here.file.orm, limitsOf(account, home), NOW)).toBeLessThanOrEqual(30_000);
    expect(await enter({ ...home, address: "192.0.2.78" })).toBe("too-many");
    const cookie = deviceToken(here.file.id, account);
    const device = deviceOf(here.file.id, account, cookie);
    expect(await enter({ address: "far 1", device })).toBe("in");
    // It is of this account and this portal, and guesses from it are counted, too.
    const made = [
      deviceOf("two", account, cookie),
      deviceOf(here.file.id, "account other", cookie),
      deviceOf(here.file.id, account, `${cookie}x`),
      deviceOf(here.file.id, account, undefined),
    ];
    expect(made).toEqual([null, null, null, null]);
    for (let i = 0; i < 6; i++) await enter({ address: "far 1", device }, "guess");
    expect(await enter({ address: "far 1", device })).toBe("too-many");
  });

  it("where a proxy was not named, nobody waits long for what another behind it did", () => {
    const limits = limitsOf("account behind", { address: "unclear", device: null });
    for (let i = 0; i < 200; i++) countTry(here.file.orm, limits, NOW);
    expect(waitFor(here.file.orm, limits, NOW)).toBe(30_000);
  });

  it("one address tries few accounts; who signs in from it does not use its tries up", async () => {
    const from = { address: "2001:db8:1:2::/64", device: null };
    const p = here.person();
    await storePassword(here.file, p.id, "a perfectly good one", false, NOW);
    for (let i = 0; i < 60; i++) expect((await signInWithPassword(here.file, p.email, "a perfectly good one", from, NOW)).ok).toBe(true);
    for (let i = 0; i < 40; i++) countTry(here.file.orm, limitsOf(`account made-up ${i}`, from), NOW);
    expect(await signInWithPassword(here.file, "one-more@x.example", "guess", from, NOW)).toMatchObject({ error: { code: "too-many" } });
  });

  it("what strangers make up does not fill the disk, and says nothing of whom they tried", () => {
    const rows = (): number => here.file.db.prepare("SELECT count(*) FROM sys_attempts").pluck().get() as number;
    const put = here.file.db.prepare("INSERT INTO sys_attempts VALUES (?, 1, ?)");
    here.file.db.transaction(() => {
      for (let i = 0; i < 25_000; i++) put.run(`made up ${i}`, NOW + i);
    })();
    sweepTries(here.file.orm, NOW + 25_000);
    expect(rows()).toBeLessThanOrEqual(20_000);
    sweepTries(here.file.orm, NOW + 26 * 3600_000);
    expect(rows()).toBe(0);
    countTry(here.file.orm, limitsOf(accountOf("somebody@x.example"), HERE), NOW);
    expect(JSON.stringify(here.file.db.prepare("SELECT * FROM sys_attempts").all())).not.toMatch(/somebody|192\.0/);
  });

  it("a few passwords are checked at once, the others in turn; a crowd is told to come again, and nobody is let in by it", async () => {
    const p = here.person();
    await storePassword(here.file, p.id, "a perfectly good one", false, NOW);
    const device = deviceOf(here.file.id, accountOf(p.email), deviceToken(here.file.id, accountOf(p.email)));
    // What stands for the password of somebody unknown is made once, by whoever is first.
    await signInWithPassword(here.file, "nobody@x.example", "whatever it is", { address: "elsewhere", device: null }, NOW);
    const tries = await Promise.all(
      Array.from({ length: 90 }, (_, i) =>
        signInWithPassword(here.file, p.email, "a perfectly good one", { address: `a ${i}`, device: `${device}${i}` }, NOW),
      ),
    );
    const answers = tries.map((a) => (a.ok ? "in" : a.error.code));
    expect([answers.filter((a) => a === "in").length, answers.filter((a) => a === "too-many").length]).toEqual([62, 28]);
    expect((await signInWithPassword(here.file, p.email, "a perfectly good one", HERE, NOW)).ok).toBe(true);
  });
});
