/** Buying, through pages and the Till's own: the six ways, and what becomes of it in the books. */

import { readdirSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";
import { afterAll, beforeAll, expect, it } from "vitest";
import { caughtActions, holdActions, type Posted, post } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { Client, signedIn } from "../support/client";
import { signInAt } from "../support/people";
import { mailComes } from "../support/post";
import { ownServerWithTill } from "../support/server";
import { payWith } from "../support/till";

const { port, data } = await ownServerWithTill();
const fernhill = (path: string): string => `http://fernhill.localhost:${port}${path}`;
const library = (path: string): string => `http://library.localhost:${port}${path}`;
let b: Browser;

beforeAll(async () => {
  b = await openBrowser();
});
afterAll(() => b.close());

/** What a portal's file says, looked at from outside. */
function ask(slug: "fernhill" | "library", sql: string, ...values: unknown[]): unknown[] {
  const control = new Database(join(data, "elkhorn.db"), { readonly: true });
  const id = control.prepare("SELECT id FROM portals WHERE slug = ?").pluck().get(slug) as string;
  control.close();
  const file = readdirSync(join(data, "portals")).find((f) => f === `${id}.db`)!;
  const db = new Database(join(data, "portals", file), { readonly: true });
  try {
    return db.prepare(sql).all(...values);
  } finally {
    db.close();
  }
}

it("a firm without a plan begins a trial: choice, summary, card at the Till, and the doors are open where they were", {
  timeout: 90_000,
}, async () => {
  await signInAt(b, library("/sign-in"), "ebbe@twoladders.example");
  await b.go(library("/plans"));
  await b.click("//section[@aria-label='Crew']//a[contains(., 'a seat and month')]");
  // The tax depends on where they are, so that comes before any sum.
  await b.seesText("Where is Two Ladders based?");
  await b.choose("//select[@name='country']", "Ireland");
  await b.press("Continue");
  await b.seesText("Look it over");
  await b.seesText("The trial begins now");
  // Three seats at the least, though one is there.
  await b.seesText("€0.00");
  await b.seesText("Then €33.00 a month");
  await b.press("Begin the trial");
  await b.seesText("Nothing is taken now");
  await payWith(b, "second step");
  await b.seesText("One step more");
  await b.press("It is me");
  await b.seesText("After that you pay for Crew, 3 seats, by the month.");
  await b.go(library("/details"));
  expect(await b.count("//*[contains(., 'Opens with')]")).toBe(0);
  const me = (await (await signedIn(port, "ebbe@twoladders.example", "library.localhost")).api("/me")).json;
  expect(me.features).toEqual(["library"]);
  expect(
    ask(
      "library",
      "SELECT plan, state, collect FROM sys_subscriptions s JOIN t_companies c ON c.id = s.company_id WHERE c.f_company_name = 'Two Ladders'",
    ),
  ).toEqual([{ plan: "crew", state: "trial", collect: "card" }]);
});

it("a payment that is due: said over each page to who may pay, refused once, paid by another card, and the grace is over at once", {
  timeout: 90_000,
}, async () => {
  await signInAt(b, fernhill("/sign-in"), "gwen@tarnmere.example");
  await b.seesText("A payment is due. Everything stays open until");
  await b.press("Pay now");
  await b.seesText("Plan and invoices");
  await b.press("Pay");
  await b.seesText("Look it over");
  // Not with what was refused before.
  await b.click("input[name=other]");
  await b.click("form button.btn-primary");
  await payWith(b, "too little");
  await b.seesText("There is not enough money on the card. Try another");
  await payWith(b, "paid");
  await b.seesText("Paid");
  await b.go(fernhill("/-/billing"));
  expect(await b.text()).not.toContain("A payment is due");
  await b.seesText("paid until");
  const [row] = ask(
    "fernhill",
    "SELECT state, collect FROM sys_subscriptions s JOIN t_companies c ON c.id = s.company_id WHERE c.f_company_name = 'Tarnmere College'",
  );
  expect(row).toEqual({ state: "active", collect: "card" });
});

it("a guest buys the audit with an e-mail alone, finds it by the link of the mail, and takes it along after signing in", {
  timeout: 90_000,
}, async () => {
  await b.driver.manage().deleteAllCookies();
  await b.go(fernhill("/plans"));
  await b.click("//section[@aria-label='Signage audit']//a");
  await b.seesText("How would you like to buy it?");
  await b.type("#guest", "nobody");
  await b.press("Buy as a guest");
  await b.seesText("Write your e-mail address.");
  await b.type("#guest", "wanda@elsewhere.example");
  await b.press("Buy as a guest");
  await b.seesText("Where are you based?");
  await b.choose("//select[@name='country']", "United Kingdom");
  await b.press("Continue");
  await b.seesText("Look it over");
  await b.seesText("£780.00");
  await b.type("input[name=name]", "Wanda Holt");
  await b.click("form button.btn-primary");
  await payWith(b, "paid");
  await b.seesText("A link to your order is on its way to wanda@elsewhere.example");
  await b.press("Go on");
  await b.seesText("Signage audit, £780.00");
  const order = await b.driver.getCurrentUrl();
  const [mail] = ask("fernhill", "SELECT body FROM sys_messages WHERE email = 'wanda@elsewhere.example' ORDER BY made_at DESC") as {
    body: string;
  }[];
  expect(mail!.body).toContain(order);
  // Another's link, or half of one, leads nowhere.
  await b.go(`${order.slice(0, -4)}AAAA`);
  await b.seesText(/not (here|found)|nothing/i);
  await signInAt(b, fernhill("/sign-in"), "rafe@pellquay.example");
  await b.go(order);
  await b.press("Put it among the orders of Pell & Quay Ferries");
  await b.seesText("It stands among your orders now.");
  await b.go(fernhill("/-/billing"));
  await b.seesText("Signage audit");
});

it("more of a plan is paid by what is kept, for the rest of the time; less holds from its end; both are said before", {
  timeout: 90_000,
}, async () => {
  await b.driver.manage().deleteAllCookies();
  await signInAt(b, fernhill("/sign-in"), "maud@wexcombe.example");
  await b.go(fernhill("/plans"));
  await b.click("//section[@aria-label='Priority']//a[contains(., 'a month')]");
  await b.seesText("Priority: more from");
  await b.seesText("It is paid with your card ending in");
  await b.click("form button.btn-primary");
  await b.seesText("Priority, by the month is yours now.");
  await b.go(fernhill("/plans"));
  await b.click("//section[@aria-label='Essential']//a[contains(., 'a month')]");
  await b.seesText("Until then your plan stays as it is, and you pay nothing now.");
  await b.click("form button.btn-primary");
  await b.go(fernhill("/-/billing"));
  await b.seesText("it is Essential, by the month");
  // Already that: a sentence, and the way on.
  await b.go(fernhill("/-/buy?price=nothing"));
  await b.seesText("That is not sold any more");
  await b.go(fernhill("/-/buy"));
  await b.seesText("Nothing is chosen");
});

it("an event that is lost is asked for; one filling-in is one purchase; nobody else opens what was bought", {
  timeout: 90_000,
}, async () => {
  await b.go(fernhill("/plans"));
  await b.click("//section[@aria-label='Five more requests']//a");
  await b.click("input[name=other]");
  await b.click("form button.btn-primary");
  await payWith(b, "lost");
  await b.seesText("Five more requests is yours now.");
  expect(ask("fernhill", "SELECT n, used FROM sys_top_ups")).toEqual([{ n: 5, used: 0 }]);
  const paying = await b.driver.getCurrentUrl();
  const [invoice] = ask("fernhill", "SELECT id FROM t_invoices WHERE f_invoice_what = 'Five more requests'") as { id: string }[];
  const dana = await signedIn(port, "dana@saltmarsh.example");
  const osric = await signedIn(port, "osric@wexcombe.example"); // of the same company, who may not pay
  for (const path of [
    `/-/invoices/${invoice!.id}`,
    `/-/invoices/${invoice!.id}/pdf`,
    `/-/invoices/${invoice!.id}/csv`,
    new URL(paying).pathname,
  ])
    for (const who of [dana, osric]) expect([path, (await who.get(path)).status]).toEqual([path, 404]);
  const nobody = new Client(port, "fernhill.localhost");
  const asked = [`/-/invoices/${invoice!.id}`, `/-/invoices/${invoice!.id}/pdf`, new URL(paying).pathname];
  expect(await Promise.all(asked.map(async (path) => (await nobody.get(path)).status))).toEqual([307, 404, 404]);
  const maud = await signedIn(port, "maud@wexcombe.example");
  const pdf = await maud.get(`/-/invoices/${invoice!.id}/pdf`);
  expect([pdf.status, pdf.text.slice(0, 5)]).toEqual([200, "%PDF-"]);
});

it("what a browser sends is believed in nothing but what was chosen: prices, seats, sums, companies and addresses changed by hand", {
  timeout: 90_000,
}, async () => {
  await b.go(library("/plans"));
  await b.driver.manage().deleteAllCookies();
  await signInAt(b, library("/sign-in"), "abel@ridgehook.example");
  await b.go(library("/-/buy?price=crew-year&seats=6&to=/details"));
  await b.seesText("Crew, 6 seats: more from");
  await holdActions(b);
  await b.click("form button.btn-primary");
  await b.until(async () => (await caughtActions(b)).length === 1);
  const [asked] = await caughtActions(b);
  const with_ = (changes: Record<string, string>): Posted => ({
    id: asked!.id,
    body: (asked!.body as [string, string][]).map(([k, v]): [string, string] => {
      const name = k.replace(/^_?\d+_/, "");
      return [k, changes[name] ?? v];
    }),
  });
  const send = (p: Posted, cookie: string) => post(port, p, cookie, "library.localhost", "/-/buy");
  const abel = (await signedIn(port, "abel@ridgehook.example", "library.localhost")).cookie;
  const checkouts = (): number => ask("library", "SELECT 1 FROM sys_checkouts").length;
  const before = checkouts();
  const led = (a: { headers: Record<string, string | string[] | undefined> }): string => String(a.headers["x-action-redirect"] ?? "");
  // Another sum than it comes to: said, and nothing is begun.
  expect(led(await send(with_({ shown: "1" }), abel))).toContain("changed=1");
  // Fewer seats than people, a price that is none, seats that are no number, an invoice of somebody else.
  const wrong: Record<string, string>[] = [
    { seats: "1" },
    { price: "nothing" },
    { seats: "-4" },
    { price: "", invoice: "x" },
    { filling: "short" },
  ];
  for (const c of wrong) await send(with_(c), abel);
  // By who may not pay, by another company's lead with this one's form, and by nobody.
  for (const email of ["junia@ridgehook.example", "greta@plumbline.example"]) {
    const { cookie } = await signedIn(port, email, "library.localhost");
    await send(with_({}), cookie);
  }
  await send(with_({}), "");
  const mine = ask("library", "SELECT company_id, body FROM sys_checkouts") as { company_id: string; body: string }[];
  const names = new Set(mine.map((c) => JSON.parse(c.body).buyer.name));
  expect([checkouts() - before <= 1, names.has("Ridge & Hook Fitters")]).toEqual([true, false]);
  // A way back that leads elsewhere leads home.
  await send(with_({ to: "https://elsewhere.example/", filling: "a-filling-in-of-its-own-1" }), abel);
  expect(
    ask(
      "library",
      "SELECT back FROM sys_checkouts WHERE company_id = (SELECT id FROM t_companies WHERE f_company_name = 'Ridge & Hook Fitters')",
    ),
  ).toEqual([{ back: "/" }]);
});

it("one detail is bought alone where its lock says so, and opens that one and no other", { timeout: 90_000 }, async () => {
  await b.driver.manage().deleteAllCookies();
  await signInAt(b, library("/sign-in"), "juno@fitters.example");
  await b.go(library("/details"));
  const locks = await b.count("//li[contains(., 'Opens with')]");
  await b.click("(//li[contains(., 'Opens with')]//a[starts-with(., 'or alone for')])[1]");
  await b.choose("//select[@name='country']", "Ireland");
  await b.press("Continue");
  await b.seesText("One detail:");
  await b.click("form button.btn-primary");
  await payWith(b, "paid");
  await b.seesText("is yours now.");
  await b.press("Go on");
  await b.seesText("Details");
  await b.until(async () => (await b.count("//li[contains(., 'Opens with')]")) === locks - 1);
  const cato = await signedIn(port, "cato@fitters.example", "library.localhost");
  const open = (await cato.api("/tables/details/records?limit=100")).json.records.filter((x: { fields: object }) => "load" in x.fields);
  expect(open).toHaveLength(6);
});

it("a visitor chooses a plan and joins on the way: the choice is kept through the mail, and they go on where they were", {
  timeout: 90_000,
}, async () => {
  await b.driver.manage().deleteAllCookies();
  await b.go(library("/plans"));
  await b.click("//section[@aria-label='Bench']//a[contains(., 'a month')]");
  await b.seesText("Sign in to go on to the page you asked for.");
  await b.press("Not here yet? Join");
  await b.click("input[name=kind][value=alone]");
  await b.type("#name", "Pell Ashdown");
  await b.type("#email", "pell@newcomer.example");
  await b.click("input[name=terms]");
  await b.click("main button[type=submit]");
  await b.seesText("a link is on its way to it");
  const mail = await mailComes(data, "pell@newcomer.example");
  await b.go(/https?:\/\/\S+\/-\/join\/\S+/.exec(mail)![0]);
  await b.click("main button[type=submit]");
  await b.choose("//select[@name='country']", "Ireland");
  await b.press("Continue");
  await b.seesText("Look it over");
  await b.seesText("Bench, by the month");
  expect(await b.attribute("input[name=email]", "value")).toBe("pell@newcomer.example");
  await b.press("Begin the trial");
  await payWith(b, "slow");
  await b.seesText("Waiting for the payment");
  // The provider's word comes later, and it opens by itself.
  await b.seesText("After that you pay for Bench, by the month.");
});
