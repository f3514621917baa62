/** Another address is confirmed at both ends, and tells nobody who else is here. */

import { expect, it } from "vitest";
import { outbox } from "@/data/messages/outbox";
import { personFacts } from "@/data/people/people";
import { lookAtLink, makeLink } from "@/identity/secrets/links";
import { findSession, startSession } from "@/identity/sessions/sessions";
import { ownFolder } from "@/testing/folder";
import { testPortal } from "@/testing/portal";
import { beginEmailChange, emailUnderWay, finishEmailChange } from "./email-change";
import { letterOf } from "./send";

ownFolder();
const HERE = { address: "192.0.2.1", device: null };

function dana() {
  const p = testPortal({ grants: [] });
  const id = p.person("Dana", "One", "lead").viewer.person!.id;
  const { now } = p.owner;
  const session = findSession(p.file, startSession(p.file, id, null, now), now)!;
  const codes = () => {
    const list = outbox(p.file, p.owner, { page: 1 }).list;
    const of = (occasion: string) => {
      const m = list.find((x) => x.occasion === occasion);
      return { to: m?.email, code: (m && /\d{3} \d{3}/.exec(letterOf(p.file, m, now)?.text ?? "")?.[0]) ?? "" };
    };
    return { fresh: of("new-email"), former: of("old-email") };
  };
  return { p, id, now, session, codes };
}

it("takes both codes, once; then links and other sessions are over, and the former address is told", () => {
  const { p, id, now, session, codes } = dana();
  const other = startSession(p.file, id, null, now);
  const link = makeLink(p.file, id, "sign-in", now);
  expect(beginEmailChange(p.file, session, " Dana@New.example ", HERE, now).ok).toBe(true);
  const { fresh, former } = codes();
  expect([fresh.to, former.to]).toEqual(["dana@new.example", "dana@t.example"]);
  expect(finishEmailChange(p.file, session, { new: fresh.code, old: "000 000" }, HERE, now)).toMatchObject({
    ok: false,
    error: { old: expect.any(String) },
  });
  expect(
    finishEmailChange(
      p.file,
      session,
      { new: former.code === fresh.code ? "000000" : former.code, old: fresh.code === former.code ? "000000" : fresh.code },
      HERE,
      now,
    ).ok,
  ).toBe(false);
  expect(personFacts(p.file, id)?.email).toBe("dana@t.example");
  expect(finishEmailChange(p.file, session, { new: fresh.code, old: former.code }, HERE, now)).toEqual({ ok: true, value: null });
  expect([
    personFacts(p.file, id)?.email,
    findSession(p.file, other, now),
    lookAtLink(p.file, link, now).state,
    emailUnderWay(p.file, id, now),
  ]).toEqual(["dana@new.example", undefined, "unknown", undefined]);
  expect(findSession(p.file, "x", now)).toBeUndefined();
  const told = outbox(p.file, p.owner, { page: 1 }).list.find((m) => m.occasion === "email-changed");
  expect(told?.email).toBe("dana@t.example");
  expect(finishEmailChange(p.file, session, { new: fresh.code, old: former.code }, HERE, now).ok).toBe(false);
});

it("an address of somebody else gets no code, and the answer is the same", () => {
  const { p, id, now, session, codes } = dana();
  p.person("Olga", "Two", "lead");
  expect(beginEmailChange(p.file, session, "olga@t.example", HERE, now)).toEqual({ ok: true, value: null });
  expect(codes().fresh.to).toBeUndefined();
  expect(finishEmailChange(p.file, session, { new: "", old: codes().former.code }, HERE, now).ok).toBe(false);
  expect(personFacts(p.file, id)?.email).toBe("dana@t.example");
  for (const bad of ["", "dana", "dana@t.example", "dаna@new.example"])
    expect(beginEmailChange(p.file, session, bad, HERE, now)).toMatchObject({ ok: false, error: { email: expect.any(String) } });
  expect(finishEmailChange(p.file, session, { new: "1", old: "1" }, HERE, now + 11 * 60_000)).toMatchObject({
    ok: false,
    error: { "": expect.any(String) },
  });
});
