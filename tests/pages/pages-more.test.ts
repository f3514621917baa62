/** More of pages in the browser: domains, frames, acceptance, lists that one works with, files in conversations, and what else an owner does. */
import { mkdirSync, writeFileSync } from "node:fs";
import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { join } from "node:path";
import { afterAll, beforeAll, expect, it } from "vitest";
import { answersOwnerAlone, caughtActions, holdActions, post } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { Client, signedIn } from "../support/client";
import { enter, leave, signInAt, signInToOffice, withoutDraft } from "../support/people";
import { ownServer } from "../support/server";

const { port, data } = await ownServer();
const portal = (path: string): string => `http://fernhill.localhost:${port}${path}`;
const office = (path: string): string => `http://localhost:${port}/portals/fernhill${path}`;
let b: Browser;
let owner: Browser;

beforeAll(async () => {
  [b, owner] = await Promise.all([openBrowser(), openBrowser()]);
  await signInToOffice(owner, port);
});
afterAll(() => Promise.all([b.close(), owner.close()]));

const publish = async (): Promise<void> => {
  await owner.go(office("/publish"));
  await owner.click("//button[starts-with(., 'Publish version')]");
  await owner.seesText("is live. It holds for everybody from their next click.");
};

it("a record is accepted as it stands, by whom a grant lets; another version is told as one", async () => {
  await enter(b, port, "dana@saltmarsh.example");
  const dana = await signedIn(port, "dana@saltmarsh.example");
  const papers = (await dana.api("/tables/documents/records?limit=100")).json.records as { id: string; fields: Record<string, unknown> }[];
  const one = papers.find((x) => x.fields.kind === "Warranty")!;
  await b.go(portal(`/documents/${one.id}`));
  await b.seesText("Nobody has accepted this version yet.");
  await b.press("I accept these terms");
  await b.seesText("Accepted. Who, when and which version are kept.");
  await b.until(async () => /I accept these terms: You, .* version [0-9a-f]{10}/.test(await b.text()));
  expect(await b.count("//button[.='I accept these terms']")).toBe(0);
  const ines = await signedIn(port, "ines@fernhill.example");
  const changed = await ines.call("PATCH", `/api/v1/tables/documents/records/${one.id}`, {
    body: { fields: { title: "Warranty, second edition" } },
    headers: { "if-match": String((await ines.api(`/tables/documents/records/${one.id}`)).headers.etag) },
  });
  expect(changed.status).toBe(200);
  await b.go(portal(`/documents/${one.id}`));
  await b.seesText("It has changed since.");
  // Who only looks has no way to; another company's is not there at all.
  const bram = await signedIn(port, "bram@pellquay.example");
  expect((await bram.get(`/documents/${one.id}`)).status).toBe(404);
  await holdActions(b);
  await b.press("I accept these terms");
  await b.until(async () => (await caughtActions(b)).length === 1);
  const asked = (await caughtActions(b))[0]!;
  for (const who of ["bram@pellquay.example", "piers@saltmarsh.example", ""]) {
    const client = who ? await signedIn(port, who) : new Client(port, "fernhill.localhost");
    const acting = who ? ((await client.api("/me")).json.membership?.id ?? "") : "visitor";
    const answer = await post(
      port,
      { ...asked, body: String(asked.body).replace(/,"[^"]*"\]$/, `,"${acting}"]`) },
      client.cookie,
      "fernhill.localhost",
      "/",
    );
    expect([who, answer.text.includes('"ok":true'), answer.text.includes('"ok":false')]).toEqual([who, false, true]);
  }
});

it("a view is kept by name; several records are decided at once, and that is taken back", async () => {
  await b.go(portal("/proofs?is.decision=Waiting"));
  await b.click("//summary[starts-with(., 'Kept views')]");
  await b.type("//input[@name='name']", "Waiting for us");
  await b.press("Keep");
  await b.seesText("Kept. You find it here again.");
  await b.go(portal("/proofs"));
  await b.click("//summary[starts-with(., 'Kept views')]");
  await b.press("Waiting for us");
  await b.until(async () => (await b.driver.getCurrentUrl()).includes("is.decision=Waiting"));
  const waiting = await b.count("tbody tr");
  expect(waiting).toBeGreaterThan(1);
  await b.click("(//input[@name='record'])[1]");
  await b.click("(//input[@name='record'])[2]");
  await b.seesText("2 chosen");
  await holdActions(b);
  await b.click("//form[@aria-label='With those you choose']//button[.='Approve']");
  await b.until(async () => (await caughtActions(b)).length === 1);
  const asked = (await caughtActions(b))[0]!;
  for (const who of ["bram@pellquay.example", "piers@saltmarsh.example", ""]) {
    const client = who ? await signedIn(port, who) : new Client(port, "fernhill.localhost");
    const acting = who ? ((await client.api("/me")).json.membership?.id ?? "") : "visitor";
    const answer = await post(
      port,
      { ...asked, body: String(asked.body).replace(/,"[^"]*"\]$/, `,"${acting}"]`) },
      client.cookie,
      "fernhill.localhost",
      "/",
    );
    expect([who, answer.text.includes('"events":[]')]).toEqual([who, true]);
  }
  await b.go(portal("/proofs?is.decision=Waiting"));
  expect(await b.count("tbody tr")).toBe(waiting);
  await b.click("(//input[@name='record'])[1]");
  await b.click("(//input[@name='record'])[2]");
  await b.click("//form[@aria-label='With those you choose']//button[.='Approve']");
  await b.seesText("Approve: done with 2 records.");
  await b.until(async () => (await b.count("tbody tr")) === waiting - 2);
  await b.press("Undo");
  await b.seesText("Taken back.");
  await b.until(async () => (await b.count("tbody tr")) === waiting);
});

it("a file goes with a message, and is had by whoever reads it", async () => {
  const dana = await signedIn(port, "dana@saltmarsh.example");
  const all = (await dana.api("/tables/requests/records?limit=100")).json.records as { id: string; fields: Record<string, unknown> }[];
  const one = all.find((x) => x.fields.status !== "Closed")!;
  const path = join(data, "where-it-hangs.txt");
  writeFileSync(path, "By the third door.");
  await b.go(portal(`/requests/${one.id}`));
  await (await b.find("input[type=file]")).sendKeys(path);
  await b.until(async () => (await b.count("button[aria-label$='where-it-hangs.txt']")) === 1);
  await b.press("Send");
  await b.until(async () => (await b.count("a[href*='/talk/']")) === 1);
  const at = new URL(await b.attribute("a[href*='/talk/']", "href")).pathname;
  expect((await dana.get(at)).text).toBe("By the third door.");
  const statuses = [];
  for (const who of ["bram@pellquay.example", "noor@saltmarsh.example"]) statuses.push((await (await signedIn(port, who)).get(at)).status);
  statuses.push((await new Client(port, "fernhill.localhost").get(at)).status);
  expect(statuses).toEqual([404, 404, 404]);
});

it("an entry of the calendar moves to another day for whom that is granted, and back", async () => {
  await b.go(portal("/due-dates"));
  expect(await b.count("[data-entry]")).toBe(0);
  await enter(b, port, "ines@fernhill.example");
  await b.go(portal("/due-dates"));
  const entry = "//td[@data-day]//li[@data-entry]";
  const name = await b.attribute(entry, "data-name");
  const day = await b.attribute(entry, "data-day-of");
  // A day that the page shows, whatever the month; the emptiest, since a full day counts what it has no room for.
  const other = await b.driver.executeScript<string>(
    `return [...document.querySelectorAll("td[data-day]")].filter((td) => td.dataset.day !== "${day}")
      .sort((a, b) => a.querySelectorAll("[data-entry]").length - b.querySelectorAll("[data-entry]").length)[0].dataset.day`,
  );
  await b.click(`${entry}//button`);
  await b.driver.executeScript(
    `const el = document.querySelector("td input[type=date]"); Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set.call(el, "${other}"); el.blur();`,
  );
  await b.until(async () => (await b.count(`//td[@data-day='${other}']//li[@data-name="${name}"]`)) === 1);
  await b.press("Undo");
  await b.until(async () => (await b.count(`//td[@data-day='${day}']//li[@data-name="${name}"]`)) === 1);
});

it("a page comes from another portal with what it is made of, and says what is not here", { timeout: 120_000 }, async () => {
  await withoutDraft(owner, port);
  await owner.go(office("/pages"));
  await owner.press("Page from another portal");
  await owner.choose("//label[starts-with(., 'Portal')]/select", "Detail Library");
  await owner.until(async () => (await owner.count("//label[starts-with(., 'Page')]/select/option")) > 2);
  await owner.choose("//label[starts-with(., 'Page')]/select", "Library");
  await holdActions(owner);
  await owner.press("Copy it here");
  await owner.until(async () => (await caughtActions(owner)).length === 1);
  const asked = await caughtActions(owner);
  await answersOwnerAlone(port, owner, asked, "/portals/fernhill/pages", /"ok":true/);
  await owner.go(office("/pages"));
  await owner.seesText("of its sections need mending");
});

it("people are told of a version, each once, by mail", { timeout: 120_000 }, async () => {
  await owner.go(office("/publish"));
  await owner.click("//summary[.='Tell people of it by mail']");
  await owner.click("//label[.='Approver']/input");
  await owner.type("//textarea[@name='news']", "There is a page about how signs are fixed.");
  await owner.click("//button[starts-with(., 'Publish version')]");
  await owner.seesText("are told of it");
  await owner.go(office("/people/outbox"));
  await owner.seesText("Something is new at Fernhill Wayfinding");
});

it("a page in a frame opens for whom a tab of the portal's own lets in", { timeout: 150_000 }, async () => {
  const site = createServer((_, res) => {
    res.setHeader("content-type", "text/html");
    res.end(`<iframe src="${portal("/requests")}" width="900" height="700"></iframe>`);
  });
  await new Promise<void>((done) => site.listen(0, "127.0.0.1", done));
  const at = `http://shop.localhost:${(site.address() as AddressInfo).port}`;
  try {
    await withoutDraft(owner, port);
    await owner.go(office("/brand"));
    await owner.type("//label[starts-with(.,'Sites that may show')]/following-sibling::textarea", at);
    await owner.press("Keep in the draft");
    await owner.seesText("Draft, not yet published");
    await publish();
    await leave(b);
    await b.driver.get(`${at}/`);
    await b.driver.switchTo().frame(await b.find("iframe"));
    await b.seesText("Sign in in a tab of its own");
    const frame = await b.driver.getWindowHandle();
    await b.press("Open a tab to sign in");
    await b.until(async () => /^\d\d$/m.test(await b.text()));
    const number = /^\d\d$/m.exec(await b.text())![0];
    await b.until(async () => (await b.driver.getAllWindowHandles()).length === 2);
    const tab = (await b.driver.getAllWindowHandles()).find((h) => h !== frame)!;
    await b.driver.switchTo().window(tab);
    await b.type("#email", "dana@saltmarsh.example");
    await b.type("#password", "dana-reads-every-sign");
    await b.press("Sign in");
    await b.seesText("wants to open as Dana Achterberg");
    await b.type("#number", number === "10" ? "11" : "10");
    await b.press("Let it in");
    await b.seesText("Another number stands there.");
    await b.type("#number", number);
    await b.press("Let it in");
    await b.seesText("It is open there now.");
    // Used once: the same address opens nothing more.
    await b.driver.navigate().refresh();
    await b.seesText("This is over.");
    await b.driver.close();
    await b.driver.switchTo().window(frame);
    await b.driver.switchTo().frame(await b.find("iframe"));
    await b.seesText("Saltmarsh Infirmary Group");
    // And nowhere else: in a tab of its own the same browser is in by its own session alone.
    await b.press("Sign out");
    await b.seesText("Sign in in a tab of its own");
  } finally {
    await b.driver.switchTo().defaultContent();
    site.close();
  }
});

it("a domain is shown to be the agency's, becomes the main address, and others lead there", { timeout: 150_000 }, async () => {
  const host = "clients.fernhill.example";
  const own = `http://${host}:${port}`;
  const named = (list: unknown[]): void => {
    mkdirSync(join(data, "names"), { recursive: true });
    writeFileSync(join(data, "names/names.json"), JSON.stringify(list));
  };
  const anon = (at: string, path = "/sign-in") => new Client(port, at).get(path);
  const may = async (name: string): Promise<number> => (await anon("gateway.internal", `/-/domain?domain=${name}`)).status;
  await owner.go(office("/addresses"));
  for (const [wrong, said] of [
    ["10.1.2.3", "in numbers"],
    ["https://clients.fernhill.example/portal", "without a path"],
    ["library.localhost", "leads nowhere"],
  ] as const) {
    await owner.type("#host", wrong);
    await owner.press("Add the domain");
    await owner.seesText(said);
  }
  await owner.type("#host", host);
  await holdActions(owner);
  await owner.press("Add the domain");
  await owner.until(async () => (await caughtActions(owner)).length === 1);
  await answersOwnerAlone(port, owner, await caughtActions(owner), "/portals/fernhill/addresses", /has been added/);
  await owner.go(office("/addresses"));
  await owner.seesText("Not shown to be yours yet: it leads nowhere.");
  expect([(await anon(host)).status, await may(host), await may("fernhill.localhost"), await may("nobody.localhost")]).toEqual([
    421, 404, 200, 404,
  ]);
  await owner.press("Look now");
  await owner.seesText(`There is no text record at _elkhorn.${host}.`);
  const says = (await owner.texts("//dt[.='Text']/following-sibling::dd"))[0]!;
  named([{ kind: "text", name: `_elkhorn.${host}`, says: `${says}x` }]);
  await owner.press("Look now");
  await owner.seesText("says something else");
  named([{ kind: "text", name: `_elkhorn.${host}`, says }]);
  await owner.press("Look now");
  await owner.seesText("A text record has shown that it is yours.");
  expect([(await anon(host)).headers.location, await may(host)]).toEqual([`http://fernhill.localhost:${port}/sign-in`, 200]);
  await owner.click("//summary[.='Make it the main address']");
  await owner.press("Yes, make it the main address");
  await owner.until(
    async () => (await owner.texts("header a"))[0] !== "" && (await owner.attribute("//a[.='Open the portal']", "href")).startsWith(own),
  );
  await b.go(portal("/proofs?is.decision=Waiting"));
  await b.until(async () => (await b.driver.getCurrentUrl()).startsWith(`${own}/sign-in`));
  await signInAt(b, `${own}/sign-in?to=%2Fproofs`, "dana@saltmarsh.example");
  await b.seesText("Proofs");
  expect(await b.driver.getCurrentUrl()).toBe(`${own}/proofs`);
  // Looking as somebody goes to the main address, too.
  await owner.go(office("/addresses"));
  await owner.press("Remove");
  await owner.until(async () => (await owner.count("//h2[contains(., 'clients.fernhill')]")) === 0);
  expect([(await anon(host)).status, (await anon("fernhill.localhost")).status]).toEqual([421, 200]);
});
