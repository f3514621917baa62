/** Second factors and codes, against published vectors and against guessing. */

import { HOTP, Secret, TOTP } from "otpauth";
import { describe, expect, it } from "vitest";
import { outbox } from "@/data/messages/outbox";
import { answerDoor, wantDoor } from "@/letters/door";
import { letterOf } from "@/letters/send";
import { ownFolder } from "@/testing/folder";
import { testPortal } from "@/testing/portal";
import { mailCodeDoor } from "../doors/code";
import { AT_FIRST, askedOf, doorSettings, keepDoors } from "../doors/settings";
import { comeIn, passSecond } from "../entering/enter";
import { signInWithLink, signInWithPassword, storePassword } from "../entering/sign-in";
import type { From } from "../limits/limits";
import { CODE_LASTS, codeToSend, freshCode, redeemCode } from "../secrets/codes";
import { makeLink } from "../secrets/links";
import { seal, unseal } from "../secrets/secrets";
import { findSession, startSession } from "../sessions/sessions";
import { beginTotp, confirmTotp, proveSecond, removeSecond, secondState } from "./second";
import { trySecond } from "./try-second";

ownFolder();

const from = (address = "192.0.2.1"): From => ({ address, device: null });
const PASSWORD = "seven green herons wade";

function dana() {
  const p = testPortal({ grants: [] });
  const id = p.person("Dana", "One", "lead").viewer.person!.id;
  return { p, id, email: "dana@t.example", now: p.owner.now };
}
const codeNow = (secret: string, now: number): string => new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: now });

function withSecond() {
  const d = dana();
  const begun = beginTotp(d.p.file, d.id, { account: d.email, issuer: "Test" }, d.now);
  const codes = confirmTotp(d.p.file, d.id, begun.id, codeNow(begun.secret, d.now), d.now)!;
  return { ...d, secret: begun.secret, codes };
}

describe("published vectors", () => {
  // RFC 4226 appendix D: the secret "12345678901234567890", counters 0 to 9.
  it("HOTP", () => {
    const secret = Secret.fromLatin1("12345678901234567890");
    const wanted = ["755224", "287082", "359152", "969429", "338314", "254676", "287922", "162583", "399871", "520489"];
    expect(wanted.map((_, counter) => HOTP.generate({ secret, counter }))).toEqual(wanted);
  });
  // RFC 6238 appendix B, the rows of SHA-1, in eight digits.
  it("TOTP", () => {
    const totp = new TOTP({ secret: Secret.fromLatin1("12345678901234567890"), digits: 8 });
    const rows: [number, string][] = [
      [59, "94287082"],
      [1111111109, "07081804"],
      [1111111111, "14050471"],
      [1234567890, "89005924"],
      [2000000000, "69279037"],
      [20000000000, "65353130"],
    ];
    for (const [seconds, code] of rows) expect(totp.generate({ timestamp: seconds * 1000 })).toBe(code);
  });
});

const silent = (): void => {};

describe("a second factor", () => {
  it("counts only once a code of it has come back; ten recovery codes go with it", () => {
    const d = dana();
    const begun = beginTotp(d.p.file, d.id, { account: d.email, issuer: "Test" }, d.now);
    expect(begun.uri).toMatch(/^otpauth:\/\/totp\/Test:dana/);
    expect(secondState(d.p.file, d.id)).toEqual({ since: null, codesLeft: 0 });
    expect(confirmTotp(d.p.file, d.id, begun.id, "000000", d.now + 1e9)).toBeNull();
    expect(confirmTotp(d.p.file, "somebody else", begun.id, codeNow(begun.secret, d.now), d.now)).toBeNull();
    const codes = confirmTotp(d.p.file, d.id, begun.id, codeNow(begun.secret, d.now), d.now);
    expect(new Set(codes).size).toBe(10);
    expect(secondState(d.p.file, d.id)).toEqual({ since: d.now, codesLeft: 10 });
    expect(d.p.file.db.prepare("SELECT secret FROM sys_factors").pluck().get()).not.toContain(begun.secret);
  });
  it("a code is good once, within a step of its time; a recovery code is good once", () => {
    const { p, id, secret, codes, now } = withSecond();
    const [next, later] = [now + 60_000, now + 120_000];
    expect(proveSecond(p.file, id, codeNow(secret, now), now)).toBe(false); // it made the factor
    expect(proveSecond(p.file, id, codeNow(secret, next), next)).toBe(true);
    expect(proveSecond(p.file, id, codeNow(secret, next), next + 1000)).toBe(false);
    expect(proveSecond(p.file, id, codeNow(secret, next + 30_000), later)).toBe(true);
    expect(proveSecond(p.file, id, codeNow(secret, later + 90_000), later)).toBe(false);
    expect(proveSecond(p.file, id, codes[0]!.toUpperCase(), later)).toBe(true);
    expect(proveSecond(p.file, id, codes[0]!, later)).toBe(false);
    for (const bad of ["", "1", "abcdefgh", "' OR 1=1", "123456789012345678901234567890"])
      expect(proveSecond(p.file, id, bad, later)).toBe(false);
    expect(proveSecond(p.file, "somebody else", codes[1]!, later)).toBe(false);
    removeSecond(p.file, id);
    expect(proveSecond(p.file, id, codes[1]!, later)).toBe(false);
  });
  it("is asked for after every door, and opens nothing before it is given", async () => {
    const { p, id, secret, email, now } = withSecond();
    await storePassword(p.file, id, PASSWORD, false, now);
    const later = now + 60_000;
    const byLink = await signInWithLink(p.file, makeLink(p.file, id, "sign-in", later), from(), later);
    const byPassword = await signInWithPassword(p.file, email, PASSWORD, from(), later);
    expect([byLink, byPassword]).toMatchObject([{ value: { step: "second" } }, { value: { step: "second" } }]);
    const half = findSession(p.file, byPassword.ok ? byPassword.value.token : "", later)!;
    expect(passSecond(p.file, half, "000000", from(), later, silent)).toEqual({ ok: false, error: { code: "wrong" } });
    const passed = passSecond(p.file, half, codeNow(secret, later), from(), later, silent);
    expect(passed.ok && findSession(p.file, passed.value.token, later)).toMatchObject({ personId: id, step: "in" });
    expect(findSession(p.file, byPassword.ok ? byPassword.value.token : "", later)).toBeUndefined(); // another token
  });
  it("guessing it waits longer and longer from one place", () => {
    const { p, id, now } = withSecond();
    const half = findSession(p.file, startSession(p.file, id, null, now, "password", "second"), now)!;
    const answers = Array.from({ length: 12 }, (_, i) => passSecond(p.file, half, "000001", from("one"), now + i, silent));
    expect(answers.slice(0, 5).every((a) => !a.ok && a.error.code === "wrong")).toBe(true);
    expect(answers.at(-1)).toMatchObject({ ok: false, error: { code: "too-many" } });
  });
  it("wrong codes are counted for the person, wherever they come from and however slowly: told at ten, stopped at twenty, lifted by mail alone", async () => {
    const { p, id, secret, email, now } = withSecond();
    await storePassword(p.file, id, PASSWORD, false, now);
    const told: string[] = [];
    // A day apart, each from another place, from devices that pass for known ones, and with half a sign-in of their own.
    let at = now;
    const guess = (i: number) => {
      at += 86_400_000;
      const half = findSession(p.file, startSession(p.file, id, null, at, "password", "second"), at)!;
      return passSecond(p.file, half, "000001", { address: `a ${i}`, device: i % 2 ? `device ${i}` : null }, at, (what) =>
        told.push(`${what} ${i}`),
      );
    };
    const answers = Array.from({ length: 30 }, (_, i) => guess(i + 1));
    expect(told).toEqual(["guessed 10", "stopped 20"]);
    expect(answers.map((a) => (a.ok ? "in" : a.error.code)).join()).toBe([...Array(19).fill("wrong"), ...Array(11).fill("stopped")].join());
    const right = (later: number) => {
      const half = findSession(p.file, startSession(p.file, id, null, later, "password", "second"), later)!;
      return passSecond(p.file, half, codeNow(secret, later), from(), later, silent);
    };
    expect(right(at + 60_000)).toEqual({ ok: false, error: { code: "stopped" } }); // not even the right one
    await signInWithPassword(p.file, email, PASSWORD, from(), at + 90_000);
    expect(right(at + 90_000).ok).toBe(false); // the password alone lifts nothing
    await signInWithLink(p.file, makeLink(p.file, id, "sign-in", at + 120_000), from(), at + 120_000);
    expect(right(at + 120_000).ok).toBe(true);
  });
  it("nor is it guessed by who has a session already and would turn it off", () => {
    const { p, id, now } = withSecond();
    const answers = Array.from({ length: 8 }, (_, i) => trySecond(p.file, id, "000001", { from: from(), now: now + i, tell: () => {} }));
    expect(answers[0]).toEqual({ ok: false, error: { code: "wrong" } });
    expect(answers.at(-1)).toMatchObject({ ok: false, error: { code: "too-many" } });
  });
  it("a session that waits for one that is not there yet cannot be passed by any code", () => {
    const { p, id, now } = dana();
    const half = findSession(p.file, startSession(p.file, id, null, now, "password", "enrol"), now)!;
    expect(passSecond(p.file, half, "", from(), now, silent)).toEqual({ ok: false, error: { code: "wrong" } });
    expect(findSession(p.file, startSession(p.file, id, null, now, "password", "second"), now + 16 * 60_000)).toBeUndefined();
  });
  it("what is sealed for one portal or purpose opens in no other, and not when it was changed", () => {
    const sealed = seal("one", "totp", "secret");
    expect(unseal("one", "totp", sealed)).toBe("secret");
    for (const wrong of [
      () => unseal("two", "totp", sealed),
      () => unseal("one", "other", sealed),
      () => unseal("one", "totp", changedIn(sealed)),
      () => unseal("one", "totp", ""),
    ])
      expect(wrong).toThrow();
  });
});

/** One bit of it is another, in its middle: at the end a letter may stand for bits that do not count. */
function changedIn(sealed: string): string {
  const at = Math.floor(sealed.length / 2);
  return `${sealed.slice(0, at)}${sealed[at] === "A" ? "B" : "A"}${sealed.slice(at + 1)}`;
}

describe("codes by mail and SMS", () => {
  const sent = (d: ReturnType<typeof dana>, what: "mail-code" | "sms-code", now: number) => {
    answerDoor(d.p.file, d.email, now, what);
    const m = outbox(d.p.file, d.p.owner, { page: 1 }).list.find((x) => x.occasion === what);
    const letter = m && letterOf(d.p.file, m, now);
    return { m, code: /\d{3} \d{3}/.exec(letter?.text ?? "")?.[0] ?? "", letter };
  };
  it("come as six digits, open the door once, and are kept nowhere", async () => {
    const d = dana();
    const { code, letter } = sent(d, "mail-code", d.now);
    expect(letter).toMatchObject({ channel: "mail", to: d.email });
    const all = JSON.stringify(d.p.file.db.prepare("SELECT * FROM sys_messages").all());
    expect(all.includes(code) || all.includes(code.replace(" ", ""))).toBe(false);
    const given = { email: "DANA@t.example ", code: code.replace(" ", "") };
    const two = await Promise.all([1, 2].map(() => comeIn(d.p.file, mailCodeDoor, given, from(), d.now)));
    expect(two.map((x) => x.ok).sort()).toEqual([false, true]);
    expect(await comeIn(d.p.file, mailCodeDoor, given, from(), d.now)).toEqual({ ok: false, error: { code: "wrong" } });
  });
  it("five tries, five minutes, and a newer one ends the older", () => {
    const d = dana();
    const code = (v: number) => codeToSend(d.p.file, d.id, "mail-code", v, d.now)!;
    const first = code(freshCode(d.p.file, d.id, "mail-code", d.now));
    expect(redeemCode(d.p.file, d.id, "mail-code", first, d.now + CODE_LASTS)).toBe(false);
    const second = code(freshCode(d.p.file, d.id, "mail-code", d.now));
    expect(redeemCode(d.p.file, d.id, "mail-code", first, d.now)).toBe(first === second);
    expect(redeemCode(d.p.file, d.id, "sms-code", second, d.now)).toBe(false);
    for (let i = 0; i < 4; i++) expect(redeemCode(d.p.file, d.id, "mail-code", "12345", d.now)).toBe(false);
    expect(redeemCode(d.p.file, d.id, "mail-code", second, d.now)).toBe(false);
  });
  it("nobody unknown, withdrawn or without a number is sent one; a second is not sent at once", () => {
    const d = dana();
    answerDoor(d.p.file, "nobody@t.example", d.now, "mail-code");
    answerDoor(d.p.file, d.email, d.now, "sms-code");
    expect(outbox(d.p.file, d.p.owner, { page: 1 }).total).toBe(0);
    const { code } = sent(d, "mail-code", d.now);
    expect(sent(d, "mail-code", d.now + 30_000).code).toBe(code);
    expect(outbox(d.p.file, d.p.owner, { page: 1 }).total).toBe(1);
  });
  it("a shut door is not asked at, and opens for no code that is right", async () => {
    const d = dana();
    const { code } = sent(d, "mail-code", d.now);
    keepDoors(d.p.file, d.p.owner, { ...AT_FIRST, open: ["password"] });
    wantDoor(d.p.file, d.email, "mail-code", from(), d.now);
    expect(d.p.file.db.prepare("SELECT count(*) FROM sys_jobs WHERE kind LIKE '%asked%'").pluck().get()).toBe(0);
    expect(await comeIn(d.p.file, mailCodeDoor, { email: d.email, code }, from(), d.now)).toMatchObject({
      error: { code: "shut", open: ["password"] },
    });
  });
});

describe("which doors are open", () => {
  it("a role may ask for a stronger one; roles that differ leave what is common; invitations open all the same", async () => {
    const d = dana();
    await storePassword(d.p.file, d.id, PASSWORD, false, d.now);
    const kept = keepDoors(d.p.file, d.p.owner, {
      ...AT_FIRST,
      roles: { lead: { doors: ["mail-code"], second: true }, gone: { doors: [], second: true } },
    });
    expect(kept.ok && Object.keys(kept.value.roles)).toEqual(["lead"]);
    const inside = await signInWithPassword(d.p.file, d.email, PASSWORD, from(), d.now);
    expect(inside).toMatchObject({ ok: false, error: { code: "shut", open: ["mail-code"] } });
    expect(await signInWithPassword(d.p.file, d.email, "wrong one entirely", from(), d.now)).toEqual({
      ok: false,
      error: { code: "wrong" },
    });
    const invited = await signInWithLink(d.p.file, makeLink(d.p.file, d.id, "invitation", d.now), from(), d.now);
    expect(invited).toMatchObject({ ok: true, value: { step: "enrol" } });
    const asked = await signInWithLink(d.p.file, makeLink(d.p.file, d.id, "sign-in", d.now), from(), d.now);
    expect(asked).toMatchObject({ ok: false, error: { code: "shut" } });
    const s = {
      ...AT_FIRST,
      roles: { a: { doors: ["password" as const, "passkey" as const], second: false }, b: { doors: ["passkey" as const], second: true } },
    };
    expect([askedOf(s, ["a"]).doors, askedOf(s, ["a", "b"]), askedOf(s, []).second]).toEqual([
      ["password", "passkey"],
      { doors: ["passkey"], second: true },
      false,
    ]);
  });
  it("none that nobody could come in by is kept, and what cannot be read is refused", () => {
    const { p } = dana();
    for (const bad of [
      null,
      {},
      { ...AT_FIRST, open: [] },
      { ...AT_FIRST, open: ["passkey"] },
      { ...AT_FIRST, open: ["window"] },
      { ...AT_FIRST, open: ["password"], roles: { lead: { doors: ["link"], second: false } } },
    ])
      expect(keepDoors(p.file, p.owner, bad).ok).toBe(false);
    expect(doorSettings(p.file)).toEqual(AT_FIRST);
  });
});
