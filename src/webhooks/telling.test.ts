/** Telling webhooks: in which order, how often, for how long, and what is kept of it. */
import { Webhook } from "standardwebhooks";
import { beforeEach, describe, expect, it } from "vitest";
import { must, type TestPortal } from "@/testing/portal";
import { change, emptyReceiver, receiver, settings, telling, told, world } from "@/testing/receiver";
import { addHook, newHookSecret, resumeHook } from "./hooks";
import { addTest, sendAgain, sendById, sendsOf, sweepSends } from "./sends";
import { tell, tellDue } from "./tell";
import { TOLD_FOR } from "./waits";

const HOUR = 3_600_000;

beforeEach(emptyReceiver);

describe("telling", () => {
  const signs = (p: TestPortal) => must(addHook(p.file, p.owner, settings(p, { table: p.table("signs").id }))).id;

  it("keeps the order of each record, whatever fails; others go ahead", async () => {
    const p = world();
    signs(p);
    const one = p.project("One");
    const [a, b] = [p.add("signs", { code: "A", project: one }), p.add("signs", { code: "B", project: one })];
    change(p, "signs", a, { code: "A2" });
    receiver.answer = () => new Response("no", { status: receiver.got.at(-1)!.body.data.id === a ? 500 : 200 });
    expect((await told(p)).sort()).toEqual(
      [
        ["record-added", a],
        ["record-added", b],
      ].sort(),
    );
    receiver.answer = () => new Response(null, { status: 204 });
    receiver.now += 5_000;
    expect(await told(p)).toEqual([
      ["record-added", a],
      ["record-changed", a],
    ]);
  });
  it("tries for three days with growing waits, says the same under the same id, and then pauses with a letter", async () => {
    const p = world();
    const hook = signs(p);
    p.add("signs", { code: "A", project: p.project("One") });
    receiver.answer = () => new Response("broken", { status: 503 });
    const tries: number[] = [];
    const from = receiver.now;
    const said = new Set<string>();
    for (let step = 0; step < 100; step++) {
      await tellDue(p.file, telling);
      if (receiver.got.length > 0) tries.push(receiver.now - from);
      for (const g of receiver.got.splice(0)) said.add(`${g.headers["webhook-id"]} ${g.text}`);
      const [send] = sendsOf(p.file, hook, 1);
      if (send!.nextAt === null) break;
      receiver.now = send!.nextAt;
    }
    expect(tries.slice(0, 5)).toEqual([0, 5_000, 35_000, 155_000, 755_000]);
    expect([tries.at(-1), said.size]).toEqual([TOLD_FOR, 1]);
    expect(sendsOf(p.file, hook, 1)[0]).toMatchObject({ state: "failed", status: 503, answer: "broken", tries: tries.length });
    expect(receiver.staffTold).toEqual(["Accounting: nothing has been taken for three days"]);
    // While it is paused nothing goes out; resumed, what waited does.
    p.add("signs", { code: "B", project: p.project("One") });
    expect(await told(p)).toEqual([]);
    receiver.answer = () => new Response("");
    p.file.db.exec("DELETE FROM sys_jobs");
    expect(resumeHook(p.file, { ...p.owner, now: receiver.now } as never, hook)).toBe(true);
    expect(p.file.db.prepare("SELECT run_at FROM sys_jobs WHERE kind = 'tell webhooks'").pluck().all()).toEqual([receiver.now]);
    expect((await told(p)).length).toBe(1);
  });
  it("waits as long as a receiver asks, and is paused at once by one that is gone", async () => {
    const p = world();
    const hook = signs(p);
    p.add("signs", { code: "A", project: p.project("One") });
    receiver.answer = () => new Response("", { status: 429, headers: { "retry-after": "3600" } });
    await told(p);
    expect(sendsOf(p.file, hook, 1)[0]!.nextAt).toBe(receiver.now + HOUR);
    receiver.now += HOUR;
    receiver.answer = () => new Response("", { status: 410 });
    await told(p);
    expect(receiver.staffTold).toEqual(["Accounting: the receiver says that nothing is there any more (410)"]);
  });
  it("one receiver that hangs holds up no other", async () => {
    const p = world();
    signs(p);
    must(addHook(p.file, p.owner, settings(p, { name: "Slow", url: "https://slow.example/", table: p.table("signs").id })));
    let free: () => void = () => {};
    const hangs = new Promise<void>((r) => (free = r));
    receiver.answer = async () => {
      if (receiver.got.at(-1)!.url.includes("slow")) await hangs;
      return new Response("");
    };
    p.add("signs", { code: "A", project: p.project("One") });
    const all = tellDue(p.file, telling);
    p.add("signs", { code: "B", project: p.project("One") });
    for (let i = 0; i < 50 && receiver.got.filter((g) => !g.url.includes("slow")).length < 2; i++)
      await new Promise((r) => setTimeout(r, 100));
    expect(receiver.got.filter((g) => !g.url.includes("slow")).length).toBe(2);
    free();
    await all;
  });
  it("signs with both secrets for a day after a new one was made", async () => {
    const p = world();
    const made = must(addHook(p.file, p.owner, settings(p, { table: p.table("signs").id })));
    const secret = newHookSecret(p.file, p.owner, made.id)!;
    const signatures = async (): Promise<string[]> => {
      p.add("signs", { code: "A", project: p.project("One") });
      await tellDue(p.file, telling);
      const [g] = receiver.got.splice(0);
      const by = (s: string) => new Webhook(s).sign(g!.headers["webhook-id"]!, new Date(receiver.now), g!.text);
      return g!.headers["webhook-signature"]!.split(" ").map((s) => (s === by(secret) ? "new" : s === by(made.secret) ? "former" : "?"));
    };
    expect(await signatures()).toEqual(["new", "former"]);
    receiver.now += 24 * HOUR;
    expect(await signatures()).toEqual(["new"]);
  });
  it("is done again by hand under the same id, and swept after thirty days; a test is told once and in no order", async () => {
    const p = world();
    const hook = signs(p);
    p.add("signs", { code: "A", project: p.project("One") });
    await tellDue(p.file, telling);
    const [first] = receiver.got.splice(0);
    const id = first!.headers["webhook-id"]!;
    expect([
      sendAgain(p.file, hook, id, receiver.now),
      sendAgain(p.file, hook, id, receiver.now),
      sendAgain(p.file, "another", id, receiver.now),
    ]).toEqual([true, false, false]);
    await tellDue(p.file, telling);
    expect([receiver.got[0]!.headers["webhook-id"], receiver.got[0]!.text]).toEqual([id, first!.text]);
    const test = addTest(p.file, hook, receiver.now);
    receiver.answer = () => new Response("no", { status: 404 });
    await tell(p.file, sendById(p.file, test)!, telling);
    expect(sendById(p.file, test)).toMatchObject({ state: "failed", status: 404, answer: "no", tries: 1 });
    sweepSends(p.file, receiver.now + 30 * 24 * HOUR);
    expect(sendsOf(p.file, hook, 5).length).toBe(2);
    sweepSends(p.file, receiver.now + 30 * 24 * HOUR + 1);
    expect(sendsOf(p.file, hook, 5)).toEqual([]);
  });
  it("says in its log why nothing came back, and keeps no secret in the file", async () => {
    const p = world();
    const { id, secret } = must(addHook(p.file, p.owner, settings(p, { table: p.table("signs").id })));
    p.add("signs", { code: "A", project: p.project("One") });
    receiver.answer = () => Promise.reject(Object.assign(new Error("x"), { name: "LeadsInside" }));
    await tellDue(p.file, telling);
    expect(sendsOf(p.file, id, 1)[0]).toMatchObject({ state: "waiting", status: null, answer: expect.stringContaining("own network") });
    const all = p.file.db.prepare("SELECT * FROM sys_webhooks").all();
    expect(JSON.stringify([all, p.file.db.prepare("SELECT * FROM sys_events").all()])).not.toContain(secret.slice(6, 20));
  });
});
