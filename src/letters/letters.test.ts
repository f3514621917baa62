/** Messages from the outbox to whoever sends them: nothing lost, nothing twice, no secret kept, and the door's answer the same for everybody. */

import { describe, expect, it } from "vitest";
import { OCCASIONS } from "@/core/messages/occasions";
import { asHtml, fillIn, templateProblem } from "@/core/messages/render";
import { keepTemplate, LINK, messageById, outbox, readable, SEND, sendNow, templateOf, write } from "@/data/messages/outbox";
import { addPerson } from "@/data/people/people";
import { choosePassword, signInWithLink, storePassword } from "@/identity/entering/sign-in";
import { freshLink, giveBack, invitationState, linkToken, lookAtLink, redeemLink, withdraw } from "@/identity/secrets/links";
import { findSession } from "@/identity/sessions/sessions";
import { ownFolder } from "@/testing/folder";
import { testPortal } from "@/testing/portal";
import { answerDoor, DOOR, wantFresh, wantLink } from "./door";
import { saidOf } from "./said";
import { type Letter, letterOf, sendMessage } from "./send";

ownFolder();

function invited() {
  const p = testPortal({ grants: [] });
  const dana = p.person("Dana", "One", "lead").viewer.person!.id;
  const { now } = p.owner;
  const link = freshLink(p.file, dana, "invitation", now);
  const person = { name: "Dana One", email: "dana@t.example" };
  const to = { personId: dana, email: person.email };
  const said = { ...saidOf(p.file, person, p.owner.now), by: "Rosalind", note: "" };
  const id = write(p.file, { occasion: "invited", to, said, link, by: "staff:o", now });
  return { p, dana, id, now };
}
const jobs = (p: ReturnType<typeof testPortal>, kind: string) =>
  p.file.db
    .prepare("SELECT body FROM sys_jobs WHERE kind = ?")
    .pluck()
    .all(kind)
    .map((b) => JSON.parse(String(b)));
const sender = () => {
  const out: { letter: Letter; key: string }[] = [];
  const send = async (letter: Letter, key: string) => {
    out.push({ letter, key });
    return { ok: true as const };
  };
  return { out, send };
};
const refuse = (when: "never" | "later") => async () => ({ ok: false as const, error: { when, message: `550 no (${when})` } });

describe("the outbox", () => {
  it("sends what was written, with a link that works, and says so; once", async () => {
    const { p, id, now, dana } = invited();
    expect(jobs(p, SEND)).toEqual([{ id }]);
    const { out, send } = sender();
    expect(await sendMessage(p.file, id, false, send, () => now)).toBe(true);
    expect(await sendMessage(p.file, id, false, send, () => now)).toBe(true);
    expect(out).toHaveLength(1);
    const { letter, key } = out[0]!;
    expect([key, letter.to]).toEqual([id, "dana@t.example"]);
    const token = /\/link\/(\S+)/.exec(letter.text)![1]!;
    expect(lookAtLink(p.file, token, now)).toMatchObject({ state: "good", personId: dana });
    expect(letter.html).toContain(`href="${letter.text.match(/https?:\S+\/link\/\S+/)![0]}"`);
    expect(messageById(p.file, id)).toMatchObject({ state: "sent", tries: 1, sentAt: now, error: null });
    // What opens the door stands nowhere in the file.
    expect(JSON.stringify(p.file.db.prepare("SELECT * FROM sys_messages").all())).not.toContain(token.split(".")[2]!);
  });

  it("is tried again where the mail server is down, and over where it refuses for good or has been tried too often", async () => {
    const { p, id, now } = invited();
    await expect(sendMessage(p.file, id, false, refuse("later"), () => now)).rejects.toThrow("550");
    expect(messageById(p.file, id)).toMatchObject({ state: "waiting", tries: 1, error: "550 no (later)" });
    expect(await sendMessage(p.file, id, true, refuse("later"), () => now)).toBe(false);
    expect(messageById(p.file, id)).toMatchObject({ state: "failed", tries: 2 });
    expect(sendNow(p.file, p.owner, [id, "nothing"])).toBe(1);
    expect(await sendMessage(p.file, id, false, refuse("never"), () => now)).toBe(false);
    expect(outbox(p.file, p.owner, { page: 1 })).toMatchObject({ total: 1, states: { failed: 1, sent: 0 } });
    expect(outbox(p.file, p.owner, { page: 1, words: "DANA@", state: "failed" }).list).toHaveLength(1);
    expect(outbox(p.file, p.owner, { page: 1, words: "somebody else" }).list).toHaveLength(0);
  });

  it("does not send what leads to a closed door: used, replaced, or too late", async () => {
    const { p, id, now, dana } = invited();
    freshLink(p.file, dana, "invitation", now);
    const { out, send } = sender();
    expect(await sendMessage(p.file, id, false, send, () => now)).toBe(false);
    expect([out, messageById(p.file, id)]).toMatchObject([[], { state: "failed", error: "Its link is used, replaced or over." }]);
  });

  it("held back it goes nowhere until somebody says so", async () => {
    const { p, dana, now } = invited();
    const link = freshLink(p.file, dana, "invitation", now);
    const said = saidOf(p.file, { name: "Dana", email: "d@t.example" }, p.owner.now);
    const id = write(p.file, { occasion: "invited", to: { personId: dana, email: "d@t.example" }, said, link, by: "x", now, held: true });
    const { out, send } = sender();
    await sendMessage(p.file, id, false, send, () => now);
    expect([out.length, messageById(p.file, id)!.state]).toEqual([0, "ready"]);
    sendNow(p.file, p.owner, [id]);
    await sendMessage(p.file, id, false, send, () => now);
    expect(out).toHaveLength(1);
  });
});

describe("a link that is asked for at the door", () => {
  it("comes to who is known and may come in; for anybody else nothing is written, and the page's part is the same", () => {
    const { p, now } = invited();
    const from = { address: "192.0.2.1", device: null };
    const ask = (email: string): void => wantLink(p.file, email, from, now);
    for (const email of ["DANA@t.example", "nobody@t.example", "no address"]) ask(email);
    expect(
      jobs(p, DOOR)
        .map((j) => j.email)
        .sort(),
    ).toEqual(["DANA@t.example", "no address", "nobody@t.example"]);
    for (const { email, at } of jobs(p, DOOR)) answerDoor(p.file, email, at);
    const written = outbox(p.file, p.owner, { page: 1 }).list.filter((m) => m.occasion === "door");
    expect(written.map((m) => m.email)).toEqual(["dana@t.example"]);
    // The office sees that it was sent, and not what opens the door.
    expect(readable(written[0]!)).toContain("(a link that only the message has)");
    // Asked for again at once, the one that is there stays good, and no other is sent.
    answerDoor(p.file, "dana@t.example", now + 60_000);
    const doors = () => outbox(p.file, p.owner, { page: 1 }).list.filter((m) => m.occasion === "door");
    expect([doors().length, letterOf(p.file, written[0]!, now + 60_000) !== undefined]).toEqual([1, true]);
    answerDoor(p.file, "dana@t.example", now + 6 * 60_000);
    expect(doors()).toHaveLength(2);
    for (let i = 0; i < 20; i++) ask("dana@t.example");
    expect(jobs(p, DOOR).length).toBeLessThan(12); // so many for one e-mail, without a word
  });

  it("lets its person choose a password without the one that is forgotten, for a quarter of an hour", async () => {
    const { p, dana, now } = invited();
    await storePassword(p.file, dana, "a forgotten old password", false, now);
    answerDoor(p.file, "dana@t.example", now);
    const m = outbox(p.file, p.owner, { page: 1 }).list.find((x) => x.occasion === "door")!;
    const token = /\/link\/(\S+)/.exec(letterOf(p.file, m, now)!.text)![1]!;
    const inside = await signInWithLink(p.file, token, { address: "a", device: null }, now);
    if (!inside.ok) throw new Error(inside.error.code);
    expect(redeemLink(p.file, token, now).state).toBe("used");
    const session = findSession(p.file, inside.value.token, now)!;
    const choose = (at: number) =>
      choosePassword(p.file, session, { password: "another seven green herons", present: "" }, { address: "a", device: null }, at);
    expect(await choose(now + 16 * 60_000)).toMatchObject({ ok: false, error: { present: expect.any(String) } });
    expect((await choose(now + 60_000)).ok).toBe(true);
  });
});

describe("an invitation", () => {
  it("is asked for by nobody who has not been invited; taken back, its link says so and no other comes; given back, it works again", () => {
    const { p, now } = invited();
    const from = { address: "192.0.2.3", device: null };
    const added = addPerson(p.file, p.owner, {
      name: "Una",
      email: "una@t.example",
      memberships: [{ companyId: p.company("One"), roles: ["lead"] }],
    });
    if (!added.ok) throw new Error("not added");
    const una = added.value.id;
    const doors = () => outbox(p.file, p.owner, { page: 1, person: una }).total;
    answerDoor(p.file, "una@t.example", now);
    expect([doors(), invitationState(p.file, una, now)]).toEqual([0, undefined]);
    const token = linkToken(p.file, freshLink(p.file, una, "invitation", now));
    answerDoor(p.file, "una@t.example", now);
    expect(doors()).toBe(1);
    expect([withdraw(p.file, una), withdraw(p.file, una)]).toEqual([true, false]);
    expect([lookAtLink(p.file, token, now).state, redeemLink(p.file, token, now).state]).toEqual(["withdrawn", "withdrawn"]);
    answerDoor(p.file, "una@t.example", now + 10 * 60_000);
    expect(doors()).toBe(1);
    const asked = jobs(p, DOOR).length;
    wantFresh(p.file, token, from, now);
    expect(jobs(p, DOOR)).toHaveLength(asked);
    expect([giveBack(p.file, una, now), giveBack(p.file, una, now), lookAtLink(p.file, token, now).state]).toEqual([true, false, "good"]);
    expect(withdraw(p.file, "nobody")).toBe(false);
  });

  it("that is dead sends a fresh one to its owner's address alone, and nothing for what was made up", () => {
    const { p, dana, now } = invited();
    const from = { address: "192.0.2.4", device: null };
    const dead = linkToken(p.file, freshLink(p.file, dana, "invitation", now));
    wantFresh(p.file, dead, from, now); // it is not dead yet
    const later = now + 20 * 86_400_000;
    expect(lookAtLink(p.file, dead, later).state).toBe("over");
    for (const token of [dead, `${dead}x`, "x.1.y", ""]) wantFresh(p.file, token, from, later);
    expect(jobs(p, DOOR)).toMatchObject([{ email: "dana@t.example", at: later, what: "link" }]);
  });
});

describe("templates", () => {
  it("without their link, or with words that mean nothing, are not kept; taken away they read as at first", () => {
    const { p } = invited();
    const keep = (subject: string, body: string) => keepTemplate(p.file, p.owner, "invited", { subject, body });
    expect(keep("Come in", "Hello {first-name}, {address}")).toBe("Without {link}, their link, the message is of no use.");
    expect(keep("Come in", "{link} {address} {password}")).toContain("{password} means nothing here.");
    expect(keep("{link}", "{link} {address}")).toBe("A link stands in the text, not in the subject.");
    expect(keep("Come\nin", "{link} {address}")).toBe("A subject is one line.");
    expect(keep(" ", "{link} {address}")).toBe("A message has a subject and a text.");
    expect(keep("Come in, {first-name}", "{address}\n\n{link}")).toBeNull();
    expect(templateOf(p.file, "invited").subject).toBe("Come in, {first-name}");
    keepTemplate(p.file, p.owner, "invited", null);
    expect(templateOf(p.file, "invited")).toEqual(OCCASIONS.invited);
  });
  it("what ships can be kept as it is; values are text, whatever they hold", () => {
    for (const o of Object.values(OCCASIONS)) expect(templateProblem(o, o)).toBeNull();
    const filled = fillIn(
      { subject: "{name}", body: "Hello {name}\n\n{note}\n\n{link}" },
      { name: "A\nBcc: x@y.example <b>{link}</b>", link: LINK },
    );
    expect(filled).toEqual({ subject: "A Bcc: x@y.example <b>{link}</b>", body: `Hello A\nBcc: x@y.example <b>{link}</b>\n\n${LINK}` });
    expect(asHtml("<script>\nhttps://x.example/?a=1&b=2", { name: "<i>", primary: "#123456" })).toMatch(
      /&lt;script&gt;<br><a href="https:\/\/x\.example\/\?a=1&amp;b=2"/,
    );
  });
});
