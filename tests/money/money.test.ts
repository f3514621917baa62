/** The owner's side of money: figures, acts with reasons, what is paid back; a rehearsal; and events that nobody signed. */

import { Webhook } from "standardwebhooks";
import { afterAll, beforeAll, expect, it } from "vitest";
import { answersOwnerAlone, caughtActions, holdActions } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { Client, signedIn } from "../support/client";
import { signInToOffice } from "../support/people";
import { ownServerWithTill } from "../support/server";

const { port, till } = await ownServerWithTill();
const office = (path: string, portal = "fernhill"): string => `http://localhost:${port}/portals/${portal}${path}`;
let b: Browser;

beforeAll(async () => {
  b = await openBrowser();
  await signInToOffice(b, port);
});
afterAll(() => b.close());

it("figures and their table agree; whoever is overdue or near an allowance is named; days, a feature and a refund have their reason in the log", {
  timeout: 90_000,
}, async () => {
  await b.go(office("/plans/money"));
  const [now] = await b.texts("//dt[.='A month, now']/following-sibling::dd");
  const rows = await b.texts("//section[@aria-labelledby='companies']//tbody/tr/td[4]");
  const amount = (s: string): number => (s.startsWith("£") ? Math.round(Number(s.replace(/[£,]/g, "")) * 100) : 0);
  expect(rows.slice(0, -1).reduce((n, s) => n + amount(s), 0)).toBe(amount(now!));
  expect(rows.at(-1)).toBe(now);
  await b.seesText("Tarnmere College");
  expect(await b.text()).toMatch(/Near their allowance[\s\S]*Wexcombe Botanic Garden/);
  await b.click("//section[@aria-labelledby='companies']//a[.='Pell & Quay Ferries']");
  await b.seesText("What is open, and why");
  await b.seesText("by the plan Standard");
  await b.press("Give a feature");
  await b.choose("//label[starts-with(., 'Feature')]/select", "reports");
  await b.press("Do it now");
  await b.seesText("Say why, in a few words");
  await b.type("//label[starts-with(., 'Why')]/input", "thanks for their patience");
  await holdActions(b);
  await b.press("Do it now");
  await b.until(async () => (await caughtActions(b)).length === 1);
  await answersOwnerAlone(port, b, await caughtActions(b), "/portals/fernhill/plans/money", /"ok":true/);
  await b.go(await b.driver.getCurrentUrl());
  await b.seesText("given by Rosalind Fern");
  await b.seesText("(thanks for their patience)");
  const rafe = await signedIn(port, "rafe@pellquay.example");
  expect((await rafe.api("/me")).json.features).toContain("reports");

  await b.click("(//button[starts-with(., 'Pay back')])[1]");
  await b.type("//label[starts-with(., 'Amount')]/input", "1000");
  await b.type("//label[starts-with(., 'Why')]/input", "fitters came late");
  await b.press("Pay it back");
  await b.seesText("can be paid back");
  await b.type("//label[starts-with(., 'Amount')]/input", "50.00");
  await b.press("Pay it back");
  await b.seesText("partly paid back");
  await b.seesText(/[-−]£50\.00/);
  // The provider says the same.
  const desk = await new Client(till, "till.localhost").get("/");
  expect(desk.text).toContain("£50.00 back");
});

it("events that nobody signed, or somebody else did, open nothing; the same one again is answered and does nothing", async () => {
  const host = new Client(port, "fernhill.localhost");
  const body = JSON.stringify({
    type: "checkout",
    subject: "x",
    outcome: { state: "paid", reference: "x", payment: "p", amount: 1, currency: "GBP", method: null, why: null },
  });
  const headers = (key: string, at = new Date()) => ({
    "webhook-id": "evt_forged",
    "webhook-timestamp": String(Math.floor(at.getTime() / 1000)),
    "webhook-signature": new Webhook(key).sign("evt_forged", at, body),
  });
  const ours = `whsec_${Buffer.alloc(32, 1).toString("base64")}`;
  for (const h of [
    {},
    headers(ours),
    headers(ours, new Date(0)),
    { "webhook-id": "x", "webhook-timestamp": "x", "webhook-signature": "v1,x" },
  ])
    expect((await host.call("POST", "/-/payments/events", { raw: body, headers: h as Record<string, string> })).status).toBe(401);
  // Not a portal's event route on the office's host, nor by GET.
  expect((await new Client(port, "localhost").call("POST", "/-/payments/events", { raw: body })).status).toBe(404);
  expect((await host.get("/-/payments/events")).status).toBe(405);
});

it("a rehearsal is unmistakable, goes by its own clock, is entered by one click as anybody, and leaves the portal as it was", {
  timeout: 240_000,
}, async () => {
  await b.go(office("/rehearsal"));
  await b.press("Begin a rehearsal");
  await b.seesText("A rehearsal of Fernhill Wayfinding: nothing here is real.");
  await b.seesText("Paid at a test account of its own");
  const clock = async (): Promise<string> => (await b.texts("//section[@aria-labelledby='clock']//strong"))[0]!;
  const before = await clock();
  await b.press("30 days on");
  await b.until(async () => (await clock()) !== before);
  // Fourteen months of it, each renewed on its day.
  for (let month = 1; month < 14; month++) {
    const last = await clock();
    await b.press("30 days on");
    await b.until(async () => (await clock()) !== last);
  }
  // Renewed in it by the ways to pay that are kept, and the one that failed has lapsed.
  await b.go(office("/plans/money", "rehearsal-fernhill"));
  await b.seesText(/Tarnmere College\s+Standard\s+lapsed/);
  await b.seesText(/Wexcombe Botanic Garden\s+Essential\s+paid/);
  await b.click("//section[@aria-labelledby='companies']//a[.='Wexcombe Botanic Garden']");
  await b.seesText("What is open, and why");
  // Nine were paid before; each of the months since is one more.
  expect(await b.count("//section[@aria-labelledby='invoices']//td[@data-label='State'][.='paid']")).toBeGreaterThanOrEqual(9 + 13);
  await b.go(office("/people/outbox", "rehearsal-fernhill"));
  await b.seesText("Your payment to Fernhill Wayfinding");
  await b.go(office("/rehearsal", "rehearsal-fernhill"));
  await b.press("Carry its draft over");
  await b.seesText("Nothing is drafted here that is not published here.");
  await b.click("//li[contains(., 'Dana Achterberg')]//button");
  await b.seesText("A rehearsal: nothing here is real, and nobody is written to.");
  await b.seesText("Dana Achterberg");
  // What is signed in at the portal opens nothing here, and the other way round; nobody enters a portal so.
  const dana = await signedIn(port, "dana@saltmarsh.example");
  const there = new Client(port, "rehearsal-fernhill.localhost");
  there.cookie = dana.cookie;
  expect((await there.get("/api/v1/me")).status).toBe(401);
  expect((await new Client(port, "fernhill.localhost").get("/-/be?ticket=x")).status).toBe(404);
  expect((await new Client(port, "rehearsal-fernhill.localhost").get("/-/be?ticket=x")).status).toBe(303);
  // Signing up is tried there, too: its mail is read in the outbox, and its link works there.
  const stranger = await openBrowser();
  try {
    await b.go(office("/rehearsal", "library"));
    await b.press("Begin a rehearsal");
    await b.seesText("A rehearsal of Detail Library");
    const rehearsed = (path: string): string => `http://rehearsal-library.localhost:${port}${path}`;
    await stranger.go(rehearsed("/-/join"));
    await stranger.click("input[name=kind][value=alone]");
    await stranger.type("#name", "Tried Once");
    await stranger.type("#email", "tried@newcomer.example");
    await stranger.click("input[name=terms]");
    await stranger.click("main button[type=submit]");
    await stranger.seesText("a link is on its way to it");
    await b.until(async () => {
      await b.go(office("/people/outbox?q=tried", "rehearsal-library"));
      return (await b.count("//a[contains(., 'Confirm your address')]")) > 0;
    });
    await b.click("//a[contains(., 'Confirm your address')]");
    await b.seesText("/-/join/");
    const link = /http:\/\/rehearsal-library\S+\/-\/join\/\S+/.exec(await b.text())![0];
    await stranger.go(link);
    await stranger.click("main button[type=submit]");
    await stranger.seesText("Tried Once");
    await stranger.seesText("A rehearsal: nothing here is real");
  } finally {
    await stranger.close();
  }
  // The portal itself: as it was.
  await b.go(office("/plans/money"));
  await b.seesText(/Tarnmere College\s+Standard\s+payment due/);
  await b.go(office("/rehearsal"));
  await b.press("Throw it away");
  await b.seesText("There is none now.");
  expect((await new Client(port, "rehearsal-fernhill.localhost").get("/")).status).toBe(421);
});

it("an invoice that will not be paid is made void, with the reason in the log; its number stays", async () => {
  await b.go(office("/plans/money"));
  await b.click("//section[@aria-labelledby='companies']//a[.='Tarnmere College']");
  await b.click("(//button[starts-with(., 'Void')])[1]");
  await b.press("Make it void");
  await b.seesText("Say why, in a few words");
  await b.type("//label[starts-with(., 'Why')]/input", "settled between the bursars");
  await b.press("Make it void");
  await b.until(async () => (await b.count("//section[@aria-labelledby='invoices']//td[@data-label='State'][.='void']")) === 1);
  expect(await b.count("//button[starts-with(., 'Void')]")).toBe(0);
  await b.go(office("/log"));
  await b.seesText("(settled between the bursars)");
});
