/**
 * Pages in the browser: what clients do on them where it stands, how an owner lays them out, and what others get of it.
 */
import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { afterAll, beforeAll, expect, it } from "vitest";
import { answersOwnerAlone, caughtActions, holdActions, post } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { Client, signedIn } from "../support/client";
import { enter, leave, signInToOffice, withoutDraft } from "../support/people";
import { ownServer } from "../support/server";

const { port } = await ownServer();
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

it("the home has what waits; a press approves a proof, and takes that back", async () => {
  await enter(b, port, "noor@saltmarsh.example");
  await b.go(portal("/"));
  await b.seesText("Proofs that wait for you");
  const waiting = async (): Promise<number> => Number((await b.texts("a[aria-label$='Proofs that wait for you']"))[0]);
  const before = await waiting();
  const [name] = await b.texts("section li a");
  await b.click("button[aria-label^='Approve: ']");
  await b.seesText("Approve: done.");
  // The way back has the focus: the button that was pressed goes away with its proof.
  await b.until(async () => (await b.driver.executeScript("return document.activeElement.textContent")) === "Undo");
  await b.until(async () => (await waiting()) === before - 1);
  expect(await b.driver.executeScript("return document.activeElement.textContent")).toBe("Undo");
  await b.press("Undo");
  await b.seesText("Taken back.");
  await b.until(async () => (await waiting()) === before);
  expect(name).toBeTruthy();
});

it("a figure leads to its records, and they are as many as it says", async () => {
  await leave(b);
  await enter(b, port, "dana@saltmarsh.example");
  await b.go(portal("/"));
  const figure = "//li[.//*[.='Open requests']]/a";
  const said = (await b.texts(`${figure}/span[2]`))[0]!;
  await b.click(figure);
  await b.seesText(`of ${said}`);
  await b.seesText("Open requests");
  await b.press("Show all");
  await b.until(async () => !(await b.text()).includes("Open requests"));
});

it("the board: whoever may not move has no way to; the agency moves a card by its list of places, and back", async () => {
  await b.go(portal("/request-board"));
  await b.seesText("Under way");
  expect(await b.count("section select.select-xs")).toBe(0);
  await leave(b);
  await enter(b, port, "ines@fernhill.example");
  await b.go(portal("/request-board"));
  const cards = async (column: string): Promise<number> => b.count(`section[aria-label='${column}'] li`);
  const [fresh, planned] = [await cards("New"), await cards("Planned")];
  await b.choose("section[aria-label='New'] li select", "Planned");
  await b.until(async () => (await cards("Planned")) === planned + 1 && (await cards("New")) === fresh - 1);
  await b.press("Undo");
  await b.seesText("Taken back.");
  await b.until(async () => (await cards("New")) === fresh);
});

it("the calendar goes from month to month in its address, and stands day by day on a narrow screen", async () => {
  await b.go(portal("/due-dates?on=2026-12"));
  await b.seesText("December 2026");
  await b.click("a[aria-label='After']");
  await b.seesText("January 2027");
  expect(await b.driver.getCurrentUrl()).toContain("on=2027-01");
  await b.go(portal("/due-dates?on=nonsense&view=week"));
  await b.seesText("Week ");
  await b.size(390, 844);
  await b.go(portal("/due-dates"));
  expect(await b.driver.executeScript("return document.documentElement.scrollWidth <= window.innerWidth")).toBe(true);
  await b.size(1280, 800);
});

it("a conversation: the agency answers and notes for itself, the client reads the answer alone, another company nothing", async () => {
  const ines = await signedIn(port, "ines@fernhill.example");
  const all = (await ines.api("/tables/requests/records?limit=100")).json.records as {
    id: string;
    fields: Record<string, { label?: string }>;
  }[];
  const one = all.find((x) => x.fields.company?.label === "Saltmarsh Infirmary Group" && String(x.fields.status) !== "Closed")!;
  await b.go(portal(`/requests/${one.id}`));
  await b.type("textarea[name=words]", "Bring the long ladder.");
  await b.click("input[name=inside]");
  await b.press("Send");
  await b.seesText("Note of the agency, for itself");
  await b.type("textarea[name=words]", "We come on Thursday.");
  await b.press("Send");
  await b.until(async () => (await b.texts("section ol li")).some((x) => x.includes("We come on Thursday.")));
  await leave(b);
  await enter(b, port, "dana@saltmarsh.example");
  await b.go(portal(`/requests/${one.id}`));
  await b.seesText("We come on Thursday.");
  expect(await b.text()).not.toContain("long ladder");
  await b.type("textarea[name=words]", "Thank you.");
  await b.press("Send");
  await b.until(async () => (await b.texts("section ol li")).some((x) => x.includes("Thank you.")));
  const pell = await signedIn(port, "bram@pellquay.example");
  expect((await pell.get(`/requests/${one.id}`)).status).toBe(404);
  // Whoever wrote before is told by mail, in the outbox of the office.
  await owner.go(office("/people/outbox"));
  await owner.seesText("A new message at");
  await leave(b);
  await enter(b, port, "ines@fernhill.example");
});

it("an owner lays out a page: adds, names, sees who misses it; clients meet it once it is published", { timeout: 150_000 }, async () => {
  await owner.go(office("/pages"));
  await owner.press("New page");
  await owner.type("input[name=name]", "Where things stand");
  await owner.press("Make it");
  await owner.seesText("Nothing stands on it yet.");
  await owner.press("Add");
  await owner.click("//button[.//span[.='Figures']]");
  await owner.seesText("Counts, sums and averages");
  await owner.press("The page itself");
  await owner.press("Add");
  await owner.click("//button[.//span[.='Notice']]");
  await owner.find("//h2[.='Notice']");
  const sentence = "//label[.='Sentence']/following-sibling::textarea";
  await owner.type(sentence, "The workshop is closed on Friday.");
  // It is alive in the middle of the page, and nothing of it holds yet.
  const seen = async (): Promise<string> => {
    await owner.driver.switchTo().frame(await owner.find("iframe"));
    try {
      return await owner.driver.executeScript<string>("return document.body.innerText");
    } finally {
      await owner.driver.switchTo().defaultContent();
    }
  };
  await owner.until(async () => (await seen()).includes("The workshop is closed on Friday."));
  const there = await new Client(port, "fernhill.localhost").get("/where-things-stand");
  expect(there.status === 404 || there.status === 307).toBe(true);
  // By its list of places, as by dragging.
  await owner.choose("//ol[@aria-label='Sections of this page']//select", "to the top");
  await owner.until(async () => (await owner.texts("ol[aria-label='Sections of this page'] > li"))[0]!.startsWith("Notice"));
  await owner.go(office("/publish"));
  await owner.seesText("A new page, Where things stand, at /where-things-stand.");
  await publish();
  await leave(b);
  await enter(b, port, "dana@saltmarsh.example");
  await b.go(portal("/where-things-stand"));
  await b.seesText("The workshop is closed on Friday.");
  await b.press("Put away");
  await b.go(portal("/where-things-stand"));
  await b.until(async () => !(await b.text()).includes("The workshop is closed"));
});

it("undo takes a section away again; a ready-made page changed is one's own, and can be ready-made again", async () => {
  await owner.go(office("/pages"));
  await owner.press("Documents");
  await owner.seesText("Ready-made: it follows the grants");
  await owner.press("Add");
  await owner.click("//button[.//span[.='Search']]");
  await owner.until(async () => (await owner.count("ol[aria-label='Sections of this page'] > li")) === 2);
  await owner.press("Undo");
  await owner.until(async () => (await owner.count("ol[aria-label='Sections of this page'] > li")) === 1);
  await owner.seesText("Ready-made: it follows the grants");
});

it("nobody but the office's staff is shown a draft, and a portal's page stands in nobody's frame", async () => {
  const anon = new Client(port, "localhost");
  for (const path of ["/pages", "/pages/home", "/-/preview/home?as=visitor", "/pages/home/before", "/brand"]) {
    const answer = await anon.get(`/portals/fernhill${path}`);
    expect([path, answer.status, answer.text.includes("Saltmarsh")]).toEqual([path, 307, false]);
  }
  const dana = await signedIn(port, "dana@saltmarsh.example");
  const preview = await dana.get("/portals/fernhill/-/preview/home?as=visitor");
  expect(preview.status).toBe(404);
  const home = await dana.get("/");
  expect(home.headers["content-security-policy"]).toContain("frame-ancestors 'none'");
  expect((await anon.get("/portals/fernhill/-/brand/0000")).status).toBe(404);
});

it("acts, board and fields, posted by hand as the page posts them, answer whom the grants let alone", async () => {
  await leave(b);
  await enter(b, port, "noor@saltmarsh.example");
  await b.go(portal("/"));
  await holdActions(b);
  await b.click("button[aria-label^='Approve: ']");
  await b.until(async () => (await caughtActions(b)).length === 1);
  const act = (await caughtActions(b))[0]!;
  await leave(b);
  await enter(b, port, "ines@fernhill.example");
  await b.go(portal("/request-board"));
  await holdActions(b);
  await b.choose("section[aria-label='New'] li select", "Closed");
  await b.until(async () => (await caughtActions(b)).length === 1);
  const move = (await caughtActions(b))[0]!;
  // Another company's approver, an onlooker of the same company, whoever is signed out: under their own names, too.
  for (const [who, a, page] of [
    ["bram@pellquay.example", act, "/"],
    ["piers@saltmarsh.example", act, "/"],
    ["dana@saltmarsh.example", move, "/request-board"],
    ["", act, "/"],
    ["", move, "/request-board"],
  ] as const) {
    const client = who ? await signedIn(port, who) : new Client(port, "fernhill.localhost");
    const acting = who ? await membershipOf(client) : "visitor";
    const mine = {
      ...a,
      body: String(a.body)
        .replace(/"acting":"[^"]*"/, `"acting":"${acting}"`)
        .replace(/("approve","[^"]+",)"[^"]*"/, `$1"${acting}"`),
    };
    const answer = await post(port, mine, client.cookie, "fernhill.localhost", page);
    expect([who, answer.text.includes('"ok":true')]).toEqual([who, false]);
    expect([who, answer.text.includes('"ok":false')]).toEqual([who, true]);
  }
  // And the questions are real ones: posted by the one who may, it is done.
  const noor = await signedIn(port, "noor@saltmarsh.example");
  const done = await post(port, act, noor.cookie, "fernhill.localhost", "/");
  expect(done.text).toContain('"ok":true');
});

it("what the owner posts in the editor answers nobody else", async () => {
  await owner.go(office("/pages/home"));
  await owner.seesText("Proofs that wait for you");
  await holdActions(owner);
  await owner.press("Add");
  await owner.click("//button[.//span[.='Search']]");
  await owner.until(async () => (await caughtActions(owner)).length === 1);
  const asked = await caughtActions(owner);
  await answersOwnerAlone(port, owner, asked, "/portals/fernhill/pages/home", /"ok":true/);
});

it("a look, chosen and published, is what whoever comes to the door meets", { timeout: 120_000 }, async () => {
  await withoutDraft(owner, port);
  await owner.go(office("/brand"));
  await owner.press("Ledger");
  await owner.type("//label[.='Motto']/following-sibling::input", "Horses that go round again.");
  await owner.press("Keep in the draft");
  await owner.seesText("Draft, not yet published");
  await owner.go(office("/publish"));
  await owner.seesText("The brand changes in: colour, ground, motto, head of the page, type of titles, type of text, room, corners.");
  await publish();
  await leave(b);
  await b.go(portal("/sign-in"));
  expect(await b.driver.executeScript("return getComputedStyle(document.querySelector('h1')).fontFamily")).toContain("Literata");
});

it("a page asks for its words, which are tried a few times and no more; who has said them is in", { timeout: 120_000 }, async () => {
  await withoutDraft(owner, port);
  await owner.go(office("/pages"));
  await owner.press("Standards");
  await owner.seesText("Who sees something on it");
  await owner.type("//label[.='Words that open it']/following-sibling::input", "lantern and mast");
  await owner.press("Ask for these words");
  await owner.seesText("Without words");
  expect(await owner.driver.getPageSource()).not.toContain("argon2");
  await publish();
  await leave(b);
  await b.go(portal("/standards"));
  await b.seesText("asks for words that its readers were told");
  expect(await b.text()).not.toContain("Placing");
  await b.type("input[name=secret]", "wrong");
  await b.press("Open the page");
  await b.seesText("These are not the words.");
  const says = async (words: string): Promise<boolean> => (await b.text()).includes(words);
  const rest = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));
  // On a slow machine a wait may be over before the next try: it is tried until one is waited for.
  for (let i = 0; i < 40 && !(await says("Too many tries.")); i++) {
    await b.type("input[name=secret]", `wrong ${i}`);
    await b.press("Open the page");
    await rest(100);
  }
  await b.seesText("Too many tries.");
  for (let i = 0; i < 12 && !(await says("Placing")); i++) {
    await rest(1_500);
    await b.type("input[name=secret]", "lantern and mast");
    await b.press("Open the page");
    await rest(500);
  }
  await b.seesText("Placing");
  // Another browser has not said them, and a cookie made up by hand is none.
  const other = new Client(port, "fernhill.localhost");
  expect((await other.get("/standards")).text).not.toContain("Placing");
});

it("a listed site shows pages in a frame and is told their height; another is refused", { timeout: 120_000 }, async () => {
  const site = createServer((_, res) => {
    res.setHeader("content-type", "text/html");
    res.end(`<title>waiting</title><script>addEventListener("message", (e) => { if (e.data.elkhorn === "height") document.title = "height " + e.data.height; });</script>
      <iframe src="${portal("/plans")}" width="600" height="300" onload="if (document.title === 'waiting') document.title = 'loaded'"></iframe>`);
  });
  await new Promise<void>((done) => site.listen(0, "127.0.0.1", done));
  const at = (host: string): string => `http://${host}.localhost:${(site.address() as AddressInfo).port}`;
  try {
    await withoutDraft(owner, port);
    await owner.go(office("/brand"));
    const box = "//label[starts-with(.,'Sites that may show')]/following-sibling::textarea";
    await owner.type(box, "http://shop.example/path");
    await owner.press("Keep in the draft");
    await owner.seesText("Write a site as https://www.example.com, without a path.");
    await owner.type(box, at("shop"));
    await owner.press("Keep in the draft");
    await owner.seesText("Draft, not yet published");
    await publish();
    await leave(b);
    await b.driver.get(`${at("shop")}/`);
    await b.until(async () => /^height \d{3,}$/.test(await b.driver.getTitle()));
    await b.driver.get(`${at("other")}/`);
    // The browser refuses a frame by loading a page of its own into it, which says nothing of its height.
    await b.until(async () => (await b.driver.getTitle()) === "loaded");
    const policy = String((await new Client(port, "fernhill.localhost").get("/plans")).headers["content-security-policy"]);
    expect(/frame-ancestors ([^;]*)/.exec(policy)?.[1]?.split(" ")).toEqual([at("shop")]);
  } finally {
    site.close();
  }
});

/** What a form of theirs would say it was opened as. */
const membershipOf = async (c: Client): Promise<string> => (await c.api("/me")).json.memberships[0].id;
