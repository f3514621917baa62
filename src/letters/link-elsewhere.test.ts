/** A link that was asked for opens as it is where it was asked for; elsewhere it takes the code that is shown there. */

import { describe, expect, it } from "vitest";
import { signInWithLink } from "@/identity/entering/sign-in";
import type { From } from "@/identity/limits/limits";
import { elsewhereCode, lookAtLink, makeLink } from "@/identity/secrets/links";
import { ownFolder } from "@/testing/folder";
import { testPortal } from "@/testing/portal";
import { answerDoor, wantFresh } from "./door";
import { letterOf } from "./send";

ownFolder();

const EMAIL = "dana@t.example";
const from = (address = "192.0.2.1"): From => ({ address, device: null });
const [DESK, PHONE] = ["hash of the desk", "hash of the telephone"];

function asked() {
  const p = testPortal({ grants: [{ roles: ["lead"], table: "projects" }] });
  const id = p.person("Dana", "Ash", "lead").viewer.person!.id;
  const { now } = p.owner;
  const last = (at = now): string => {
    const row = p.file.db.prepare("SELECT * FROM sys_messages WHERE occasion = 'door' ORDER BY made_at DESC, id DESC").get() as Record<
      string,
      unknown
    >;
    const letter = letterOf(p.file, { ...row, linkId: row.link_id, linkVersion: row.link_version, personId: row.person_id } as never, at);
    return /\/link\/(\S+)/.exec(letter!.text)![1]!;
  };
  answerDoor(p.file, EMAIL, now, "link", { asked: DESK });
  return { p, id, now, token: last(), last };
}

describe("a link that was asked for", () => {
  it("opens as it is in the browser that asked", async () => {
    const { p, id, now, token } = asked();
    expect(await signInWithLink(p.file, token, from(), now, { browser: DESK })).toMatchObject({ ok: true, value: { personId: id } });
    expect(lookAtLink(p.file, token, now).state).toBe("used");
  });

  it("takes the code elsewhere; wrong ones use nothing up, and are not tried for ever", async () => {
    const { p, now, token } = asked();
    const open = (code: string, browser: string | null = PHONE) => signInWithLink(p.file, token, from(), now, { browser, code });
    expect(await open("")).toMatchObject({ ok: false, error: { code: "wrong" } });
    expect(await open(elsewhereCode(p.file, PHONE))).toMatchObject({ error: { code: "wrong" } });
    expect(lookAtLink(p.file, token, now).state).toBe("good");
    const code = elsewhereCode(p.file, DESK);
    expect(await open(`${code.slice(0, 3)} ${code.slice(3)}`, null)).toMatchObject({ ok: true });
    const again = asked();
    let refused = 0;
    for (let i = 0; i < 12 && refused === 0; i++) {
      const tried = await signInWithLink(again.p.file, again.token, from(), again.now, { browser: PHONE, code: "000000" });
      if (!tried.ok && tried.error.code === "too-many") refused = i;
    }
    expect(refused).toBeGreaterThan(2);
  });

  it("another is sent at once to be opened here, by whoever holds the one that is in the mailbox", () => {
    const { p, now, token, last } = asked();
    wantFresh(p.file, token, from(), now, PHONE);
    const job = JSON.parse(String(p.file.db.prepare("SELECT body FROM sys_jobs WHERE kind = 'a link is asked for'").pluck().get()));
    expect(job).toMatchObject({ email: EMAIL, asked: PHONE, anew: true });
    answerDoor(p.file, job.email, now + 1, job.what, job);
    const next = last(now + 1);
    expect(lookAtLink(p.file, token, now + 1).state).toBe("replaced");
    expect(lookAtLink(p.file, next, now + 1)).toMatchObject({ state: "good", asked: PHONE });
    // In the browser that asked, nothing is sent anew while the one there is works.
    const before = p.file.db.prepare("SELECT count(*) FROM sys_messages").pluck().get();
    wantFresh(p.file, next, from(), now + 1, PHONE);
    expect(p.file.db.prepare("SELECT count(*) FROM sys_messages").pluck().get()).toBe(before);
    expect(p.file.db.prepare("SELECT count(*) FROM sys_jobs WHERE kind = 'a link is asked for'").pluck().get()).toBe(1);
  });

  it("what the agency made opens wherever it is opened", async () => {
    const { p, id, now } = asked();
    const invitation = makeLink(p.file, id, "invitation", now);
    expect(await signInWithLink(p.file, invitation, from(), now, { browser: PHONE })).toMatchObject({ ok: true });
  });
});
