/** What any provider's adapter must do, asked of the Till over HTTP: a real one's adapter is put into `adapters` and must pass the same. */
import { mkdtempSync, rmSync } from "node:fs";
import { createServer } from "node:http";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Webhook } from "standardwebhooks";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { CARDS, isLuhn, readCard } from "@/till/cards";
import { startTill } from "@/till/main";
import { addAccount } from "@/till/store";
import type { Payments, Provider } from "./contract";
import { tillProvider } from "./till";

const folder = mkdtempSync(join(tmpdir(), "elkhorn-till-"));
const heard: { headers: Record<string, string>; body: string; at: number }[] = [];
const ear = createServer((request, response) => {
  const parts: Buffer[] = [];
  request.on("data", (p: Buffer) => parts.push(p));
  request.on("end", () => {
    heard.push({ headers: request.headers as Record<string, string>, body: Buffer.concat(parts).toString(), at: Date.now() });
    response.writeHead(heard.length % 7 === 3 ? 500 : 204).end();
  });
  request.on("error", () => {});
});
let till: Awaited<ReturnType<typeof startTill>>;
let provider: Provider;
let payments: Payments;
let account: { id: string; secret: string; hook: string };

beforeAll(async () => {
  await new Promise<void>((done) => ear.listen(0, "127.0.0.1", done));
  till = await startTill(0, join(folder, "till.db"));
  const at = (ear.address() as { port: number }).port;
  account = addAccount(till.db, { name: "Fernhill", mode: "test", hookUrl: `http://fernhill.localhost:${at}/-/payments/events` });
  provider = tillProvider(`http://till.localhost:${till.port}`);
  payments = provider.payments({ secret: account.secret, mode: "test" });
});
afterAll(async () => {
  await till.close();
  ear.close();
  rmSync(folder, { recursive: true, force: true });
});

const value = async <T>(answer: Promise<{ ok: true; value: T } | { ok: false; error: { message: string } }>): Promise<T> => {
  const a = await answer;
  if (!a.ok) throw new Error(a.error.message);
  return a.value;
};
const wanted = (reference: string, amount = 21_600, customer: string | null = null) => ({
  customer,
  email: "dana@one.example",
  amount,
  currency: "GBP",
  what: "Standard, a month",
  reference,
  keep: customer !== null,
  back: "http://fernhill.localhost:3000/-/paying/x",
});
/** As a person on the provider's page. */
async function pay(url: string, n: number): Promise<{ status: number; location: string | null; text: string }> {
  const to = new URL(url);
  const answer = await fetch(`http://127.0.0.1:${to.port}${to.pathname}`, {
    method: "POST",
    redirect: "manual",
    body: new URLSearchParams({ number: CARDS[n]!.number, until: "12/40", code: "123", name: "Dana" }),
  });
  return { status: answer.status, location: answer.headers.get("location"), text: await answer.text() };
}
const until = async (holds: () => boolean): Promise<void> => {
  for (let i = 0; i < 100 && !holds(); i++) await new Promise((next) => setTimeout(next, 100));
  expect(holds()).toBe(true);
};
const eventsOf = (reference: string) =>
  heard.flatMap((h) => {
    const e = provider.event(account.hook, h.headers, h.body);
    return e?.outcome.reference === reference ? [e] : [];
  });

describe("a checkout", () => {
  it("is one for its key; paid on the provider's page, told by a signed event and to whoever asks, and again until it is heard", async () => {
    const [one, two] = await Promise.all([payments.checkout(wanted("c1"), "key-1"), payments.checkout(wanted("c1"), "key-1")]);
    expect(one).toEqual(two);
    const { id, url } = await value(Promise.resolve(one));
    expect(await value(payments.checkoutNow(id))).toMatchObject({ state: "open", payment: null });
    const other = await payments.checkout(wanted("c1", 1), "key-1");
    expect(other.ok).toBe(false);
    expect((await pay(url, 1)).text).toContain("refused by its bank");
    expect((await pay(url, 0)).location).toBe("http://fernhill.localhost:3000/-/paying/x");
    const now = await value(payments.checkoutNow(id));
    expect(now).toMatchObject({
      state: "paid",
      reference: "c1",
      amount: 21_600,
      currency: "GBP",
      method: { words: `card ending in ${CARDS[0]!.number.slice(-4)}` },
    });
    await until(() => eventsOf("c1").length > 0);
    expect(eventsOf("c1")[0]).toMatchObject({ type: "checkout", subject: id, outcome: now });
    // Pressed again: nothing more is taken.
    await pay(url, 0);
    expect(till.db.prepare("SELECT count(*) FROM payments WHERE reference = 'c1'").pluck().get()).toBe(1);
  });

  it("is withdrawn while nobody has paid, and paid by nobody after; one that was paid stays paid", async () => {
    const open = await value(payments.checkout(wanted("c-close"), "key-close"));
    expect(await value(payments.close(open.id, "close-1"))).toMatchObject({ state: "closed", payment: null });
    expect((await pay(open.url, 0)).text).toContain("withdrawn");
    expect(till.db.prepare("SELECT count(*) FROM payments WHERE reference = 'c-close'").pluck().get()).toBe(0);
    const paid = await value(payments.checkout(wanted("c-paid"), "key-paid"));
    await pay(paid.url, 0);
    expect(await value(payments.close(paid.id, "close-2"))).toMatchObject({ state: "paid", amount: 21_600 });
    const other = addAccount(till.db, { name: "Other", mode: "test", hookUrl: "http://127.0.0.1:9/" });
    const theirs = await provider.payments({ secret: other.secret, mode: "test" }).close(paid.id, "close-3");
    expect(theirs.ok).toBe(false);
  });

  it("keeps a way to pay, which is charged later, once for a key, and paid back no further than it was paid", async () => {
    const customer = await value(payments.customer({ name: "One", email: "a@one.example", reference: "co1" }, "cus-1"));
    const { id, url } = await value(payments.checkout(wanted("c2", 0, customer.id), "key-2"));
    await pay(url, 7);
    const { method, payment } = await value(payments.checkoutNow(id));
    expect([payment, method?.words]).toEqual([null, `card ending in ${CARDS[7]!.number.slice(-4)}`]);
    const paying = { customer: customer.id, method: method!.id, amount: 500, currency: "GBP", what: "x", reference: "i1" };
    const [a, b] = await Promise.all([payments.charge(paying, "try-1"), payments.charge(paying, "try-1")]);
    expect(a).toEqual(b);
    // This card pays once: the next is refused, which is an answer and no error.
    expect(await value(Promise.resolve(a))).toMatchObject({ state: "refused", payment: null });
    const good = await value(payments.checkout(wanted("c3", 900, customer.id), "key-3"));
    await pay(good.url, 0);
    const paid = await value(payments.checkoutNow(good.id));
    expect((await payments.refund({ payment: paid.payment!, amount: 600, reference: "r1" }, "back-1")).ok).toBe(true);
    expect((await payments.refund({ payment: paid.payment!, amount: 600, reference: "r2" }, "back-2")).ok).toBe(false);
    expect((await payments.charge({ ...paying, customer: "cus_other" }, "try-2")).ok).toBe(false);
  });

  it("asks for a second step where the card does, and may be turned down", async () => {
    const { id, url } = await value(payments.checkout(wanted("c4"), "key-4"));
    expect((await pay(url, 3)).text).toContain("One step more");
    expect((await value(payments.checkoutNow(id))).state).toBe("open");
    const to = new URL(url);
    const step = (yes: string) =>
      fetch(`http://127.0.0.1:${to.port}${to.pathname}/second`, { method: "POST", redirect: "manual", body: new URLSearchParams({ yes }) });
    expect(await (await step("0")).text()).toContain("turned down");
    await pay(url, 3);
    await step("1");
    expect((await value(payments.checkoutNow(id))).state).toBe("paid");
  });
});

it("events come late, twice or first with a wrong signature where that was asked for, and mean the same", async () => {
  till.db.prepare("UPDATE accounts SET faults = ?").run(JSON.stringify({ twice: true, unsigned: true, dies: false, late: 1 }));
  const { url } = await value(payments.checkout(wanted("c5"), "key-5"));
  const before = Date.now();
  await pay(url, 0);
  await until(() => eventsOf("c5").length > 0);
  expect(Date.now() - before).toBeGreaterThan(900);
  till.db.prepare("UPDATE accounts SET faults = '{}'").run();
  const ids = eventsOf("c5").map((e) => e.id);
  expect(new Set(ids).size).toBe(1);
});

it("another key, no key, and another's checkout open nothing", async () => {
  const stranger = provider.payments({ secret: `till-test-${"x".repeat(32)}`, mode: "test" });
  expect(await stranger.checkout(wanted("c6"), "k")).toMatchObject({ ok: false, error: { when: "never" } });
  const mine = await value(payments.checkout(wanted("c7"), "key-7"));
  const second = addAccount(till.db, { name: "Other", mode: "live", hookUrl: "http://localhost:1/" });
  const other = provider.payments({ secret: second.secret, mode: "live" });
  expect((await other.checkoutNow(mine.id)).ok).toBe(false);
  const live = await value(other.checkout(wanted("c8"), "key-8"));
  expect((await pay(live.url, 0)).text).toContain("a live account takes no card");
});

it("a rehearsal has a test account of its own that charges what customers keep, by its own clock, and of a live account, too", async () => {
  const customer = await value(payments.customer({ name: "One", email: "a@one.example", reference: "co9" }, "cus-9"));
  const { id, url } = await value(payments.checkout(wanted("c9", 0, customer.id), "key-9"));
  await pay(url, 0);
  const { method } = await value(payments.checkoutNow(id));
  const own = await value(provider.rehearsal!({ secret: account.secret, mode: "test" }, "http://rehearsal-x.localhost:1/", "rehearsal-1"));
  expect(provider.modeOf(own.secret)).toBe("test");
  const mine = { secret: own.secret, mode: "test" as const };
  await value(provider.rehearsalClock!(mine, 86_400_000, "clock-1"));
  const charge = { customer: customer.id, method: method!.id, amount: 500, currency: "GBP", what: "x", reference: "in the rehearsal" };
  expect((await value(provider.payments(mine).charge(charge, "try-9"))).state).toBe("paid");
  const at = till.db.prepare("SELECT at FROM payments WHERE reference = 'in the rehearsal'").pluck().get() as number;
  expect(at - Date.now()).toBeGreaterThan(86_000_000);
  // The portal's own account has no clock but the real one.
  expect((await provider.rehearsalClock!({ secret: account.secret, mode: "test" }, 5, "clock-2")).ok).toBe(false);
});

it("one that cannot be reached is worth another try", async () => {
  const gone = tillProvider("http://localhost:9").payments({ secret: account.secret, mode: "test" });
  expect(await gone.checkoutNow("pay_x")).toMatchObject({ ok: false, error: { when: "later" } });
});

describe("secrets", () => {
  it("tell test from live, and anything else is none", () => {
    expect([`till-test-${"a".repeat(32)}`, `till-live-${"a".repeat(32)}`, "till-test-short", "sk"].map(provider.modeOf)).toEqual([
      "test",
      "live",
      null,
      null,
    ]);
    expect([account.hook, "whsec_", "x"].map(provider.isHook)).toEqual([true, false, false]);
  });
});

describe("the signature of events", () => {
  // From the specification of Standard Webhooks, "Signature scheme" (its worked example, as the package's own tests have it; from memory).
  const secret = "whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw";
  const [id, timestamp, body] = ["msg_p5jXN8AQM9LWM0D4loKWxJek", 1614265330, '{"test": 2432232314}'];
  it("is the one that the specification works out", () => {
    expect(new Webhook(secret).sign(id, new Date(timestamp * 1000), body)).toBe("v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE=");
  });
  it("refuses another body, another id, an old time and no signature", () => {
    const now = new Date();
    const good = JSON.stringify({
      type: "charge",
      subject: "s",
      outcome: { state: "paid", reference: "r", payment: "p", amount: 1, currency: "GBP", method: null, why: null },
    });
    const headers = (at: Date, of = good) => ({
      "webhook-id": "evt_1",
      "webhook-timestamp": String(Math.floor(at.getTime() / 1000)),
      "webhook-signature": new Webhook(account.hook).sign("evt_1", at, of),
    });
    expect(provider.event(account.hook, headers(now), good)).toMatchObject({ id: "evt_1", type: "charge" });
    expect(provider.event(account.hook, headers(now), good.replace('"amount":1', '"amount":2'))).toBeNull();
    expect(provider.event(account.hook, { ...headers(now), "webhook-id": "evt_2" }, good)).toBeNull();
    expect(provider.event(account.hook, headers(new Date(now.getTime() - 6 * 60_000)), good)).toBeNull();
    expect(provider.event(account.hook, {}, good)).toBeNull();
    expect(provider.event(account.hook, headers(now, "{}"), "{}")).toBeNull();
  });
});

describe("test cards", () => {
  // ISO/IEC 7812-1, annex B: the example 7992739871 has the check digit 3 (widely published; from memory).
  it("are right by Luhn, and a wrong digit or two that changed places are found", () => {
    expect([isLuhn("79927398713"), isLuhn("79927398710"), isLuhn("79927398731")]).toEqual([true, false, false]);
    for (const c of CARDS)
      expect([c.number, c.number.length, isLuhn(c.number), c.number.slice(0, 4)]).toEqual([c.number, 16, true, "9999"]);
  });
  it("are the only ones taken, until a month to come", () => {
    const now = Date.UTC(2026, 10, 27);
    const number = CARDS[0]!.number;
    expect(readCard(number.replace(/(\d{4})/g, "$1 "), "11 / 26", now)).toEqual({ does: "paid", last: number.slice(-4) });
    expect(
      [
        readCard(number, "10/26", now),
        readCard(number, "13/30", now),
        readCard("79927398713000", "12/30", now),
        readCard("99990000", "12/30", now),
      ].every((r) => "problem" in r),
    ).toBe(true);
  });
});

it("the Till reads no more than 64 KiB of a request, and answers the next one", async () => {
  const ask = (bytes: number) => fetch(`http://127.0.0.1:${till.port}/v1/charges`, { method: "POST", body: "x".repeat(bytes) });
  expect([(await ask(64 * 1024 + 1)).status, (await ask(64 * 1024)).status]).toEqual([413, 401]);
});
