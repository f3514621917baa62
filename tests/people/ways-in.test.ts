/** Messages and the ways in: many invited in one act, an invitation opened, and a forgotten password, each by what was sent. */
import { afterAll, beforeAll, expect, it } from "vitest";
import { answersOwnerAlone, catchActions, caughtActions } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { Client, signedIn } from "../support/client";
import { signInToOffice } from "../support/people";
import { linkIn, mailComes, mailSays, mailTo } from "../support/post";
import { ownServer } from "../support/server";

const { port, data } = await ownServer();
const office = (path: string): string => `http://localhost:${port}/portals/fernhill${path}`;
const portal = (path: string): string => `http://fernhill.localhost:${port}${path}`;
let owner: Browser;
beforeAll(async () => {
  owner = await openBrowser();
  await signInToOffice(owner, port);
});
afterAll(() => owner.close());

const comes = (email: string, from = 0): Promise<string> => mailComes(data, email, from);

it("several are invited in one act, with words of one's own; who cannot be is named", { timeout: 120_000 }, async () => {
  await owner.go(office("/people?standing=not+invited+yet"));
  const before = Number((await owner.text()).match(/People\s+(\d+)/)?.[1] ?? 0);
  expect(before).toBeGreaterThan(0);
  await catchActions(owner);
  await owner.click('[aria-label="Choose everybody on this page"]');
  await owner.press("Invite…");
  await owner.type("//label[contains(.,'Words of your own')]//textarea", "The plans for spring are in.");
  await owner.press("Make ready without sending");
  await owner.seesText(/ready \d+/);
  const messages = await owner.texts("tbody td:first-child");
  expect(messages.length).toBeGreaterThan(0);
  const invitations = await caughtActions(owner);
  // Their links as a file: the owner's alone, and each a door of its own.
  const path = new URL(await owner.attribute("//a[normalize-space()='Download their links']", "href"));
  const links = path.pathname + path.search;
  const cookie = (await owner.driver.manage().getCookies()).map((c) => `${c.name}=${c.value}`).join("; ");
  const file = await new Client(port, "localhost").get(links, { headers: { cookie } });
  expect([file.text.split("\r\n").filter((l) => l.includes("/link/")).length, new Set(file.text.match(/\/link\/\S+/g)).size]).toEqual([
    messages.length,
    messages.length,
  ]);
  const clients = await signedIn(port, "ines@fernhill.example");
  for (const [host, c] of [
    ["localhost", ""],
    ["localhost", clients.cookie],
    ["fernhill.localhost", clients.cookie],
    ["fernhill.localhost", cookie],
  ] as const)
    expect((await new Client(port, host).get(links, { headers: c ? { cookie: c } : {} })).text).not.toContain("/link/");
  await owner.click("(//tbody//a)[1]");
  await owner.seesText("The plans for spring are in.");
  expect(await owner.text()).not.toMatch(/\/link\/[0-9a-f-]{36}/);
  await owner.press("Send it");
  const mail = await comes(messages[0]!);
  await owner.until(async () => {
    await owner.driver.navigate().refresh();
    return /State\s+sent/.test(await owner.text());
  });
  await owner.go(office("/log?act=invited"));
  await owner.seesText("invited");
  expect((await owner.texts("tbody td:nth-child(2)")).every((t) => t.startsWith("Rosalind"))).toBe(true);
  // In by the link: one click, and one password field at the most.
  const guest = await openBrowser();
  try {
    await guest.go(linkIn(mail));
    await guest.click("//main//button[starts-with(normalize-space(.), 'Go in as')]");
    await guest.seesText("Choose a password");
    expect(await guest.count("input[type=password]")).toBe(1);
    await guest.type("#password", "geese above the weir");
    await guest.press("Keep this password");
    await guest.press("Sign out");
    await guest.seesText("You are signed out");
    // A dead link says which kind of dead, and sends a fresh one to the address that is known.
    await guest.go(linkIn(mail));
    await guest.seesText("This link has been used already.");
    const had = mailTo(data, messages[0]!).length;
    await guest.press("Send a fresh one to the address that is known here");
    await guest.seesText("A fresh one is on its way");
    expect(linkIn(await comes(messages[0]!, had))).not.toBe(linkIn(mail));
  } finally {
    await guest.close();
  }
  // At the end: what the owner posted is posted once more for it, and ends the links above.
  await answersOwnerAlone(port, owner, invitations, "/portals/fernhill/people", /"message":|"written":/);
});

it("how messages read: without its link one is not kept; the outbox, invitations and templates answer the owner alone", {
  timeout: 120_000,
}, async () => {
  await owner.go(office("/people/outbox/words"));
  await catchActions(owner);
  const text = "//section[@aria-label='Invitation']//textarea";
  await owner.type(text, "Come in: {address}");
  await owner.click("//section[@aria-label='Invitation']//button[normalize-space()='Keep']");
  await owner.seesText("Without {link}, their link, the message is of no use.");
  await owner.type(text, "Come in: {address}\n\n{link}");
  await owner.click("//section[@aria-label='Invitation']//button[normalize-space()='Keep']");
  await owner.seesText("reads so from now on");
  await owner.type("//section[@aria-label='Invitation']//input[@type='email']", "nobody@nowhere.example");
  await owner.click("//section[@aria-label='Invitation']//button[normalize-space()='Look at it']");
  await owner.seesText("Nobody in this portal has that address.");
  await owner.type("//section[@aria-label='Invitation']//input[@type='email']", "thea@tarnmere.example");
  await owner.click("//section[@aria-label='Invitation']//button[normalize-space()='Send it to me']");
  await owner.seesText("/link/an-example-that-opens-nothing");
  expect(await comes("rosalind@fernhill.example")).toContain("an-example-that-opens-nothing");
  const asked = await caughtActions(owner);
  expect(asked.length).toBe(4);
  await answersOwnerAlone(port, owner, asked, "/portals/fernhill/people/outbox/words", /"message":|"written":|"ok":true/);
  const mine = (await owner.driver.manage().getCookies()).map((c) => `${c.name}=${c.value}`).join("; ");
  const ines = await signedIn(port, "ines@fernhill.example");
  await owner.go(office("/people/outbox"));
  const message = new URL(await owner.attribute("(//tbody//a)[1]", "href")).pathname.replace("/portals/fernhill", "");
  const read = (path: string) => new Client(port, "localhost").get(`/portals/fernhill${path}`, { headers: { cookie: mine } });
  expect([(await read(`${message}/eml`)).text.includes("Subject:"), (await read("/log/csv")).text.includes("When (UTC)")]).toEqual([
    true,
    true,
  ]);
  for (const path of ["/people/outbox", "/people/outbox/words", "/people?standing=active", message, `${message}/eml`, "/log", "/log/csv"])
    for (const [host, cookie] of [
      ["localhost", ""],
      ["localhost", ines.cookie],
      ["fernhill.localhost", ines.cookie],
      ["fernhill.localhost", mine],
    ] as const) {
      const answer = await new Client(port, host).get(`/portals/fernhill${path}`, { headers: cookie ? { cookie } : {} });
      expect([host, path, [303, 307, 404].includes(answer.status), /How it reads|Subject:|When \(UTC\)/.test(answer.text)]).toEqual([
        host,
        path,
        true,
        false,
      ]);
    }
});

it("several at once: a role more drops no other, the last is not taken, inactive is out; undone as one act, by the owner alone", {
  timeout: 120_000,
}, async () => {
  await owner.go(office("/people?q=tarnmere&standing=active"));
  await catchActions(owner);
  const belongs = (): Promise<string[]> => owner.texts("tbody td[data-label='Belongs to']");
  const before = await belongs();
  expect(before.length).toBeGreaterThan(1);
  await owner.click("[aria-label='Choose everybody on this page']");
  await owner.choose("#many-role", "Onlooker");
  await owner.press("Give this role");
  await owner.until(async () =>
    (await belongs()).every((b, i) => b.includes("Onlooker") && b.startsWith(before[i]!.slice(0, before[i]!.indexOf(")")))),
  );
  await owner.press("Undo");
  await owner.until(async () => JSON.stringify(await belongs()) === JSON.stringify(before));
  await owner.choose("#many-role", "Approver");
  await owner.press("Take it");
  await owner.seesText("would hold no role any more");
  const thea = await signedIn(port, "thea@tarnmere.example");
  await owner.press("Make inactive");
  await owner.until(async () => (await owner.count("tbody td[data-label='Belongs to']")) === 0);
  expect((await thea.api("/me")).status).toBe(401);
  const asked = (await caughtActions(owner)).filter((a) => typeof a.body === "string" && a.body.includes('"act"'));
  expect(asked.length).toBe(3);
  await owner.press("Undo");
  await owner.until(async () => (await owner.count("tbody td[data-label='Belongs to']")) === before.length);
  await answersOwnerAlone(port, owner, asked, "/portals/fernhill/people", /"changed":/);
});

it("a forgotten password: the same answer for every e-mail, and a link for who is known", { timeout: 120_000 }, async () => {
  const b = await openBrowser();
  try {
    const ask = async (email: string, from = "/sign-in"): Promise<string> => {
      await b.go(portal(from));
      await b.press("No password, or forgotten it?");
      await b.type("#email", email);
      await b.press("Send me a link");
      await b.seesText("a link is on its way to it");
      return (await b.find("[role=status]").then((e) => e.getText())).replace(email, "…");
    };
    // Where they were going is where they are in the end, whoever else was asked about meanwhile.
    const unknown = await ask("nobody@saltmarsh.example");
    const known = await ask("dana@saltmarsh.example", "/invoices?q=F-41");
    expect(known).toBe(unknown);
    const mail = await comes("dana@saltmarsh.example");
    expect(mailTo(data, "nobody@saltmarsh.example")).toEqual([]);
    await b.go(linkIn(mail));
    await b.click("//main//button[starts-with(normalize-space(.), 'Go in as')]");
    await b.seesText("Choose a password");
    await b.type("#password", "tide tables on the fridge");
    await b.press("Keep this password");
    await b.until(async () => (await b.driver.getCurrentUrl()).endsWith("/invoices?q=F-41"));
    await mailSays(data, "dana@saltmarsh.example", "you chose a new password.");
    // Oneself: where one is signed in, and out everywhere else.
    const elsewhere = new Client(port, "fernhill.localhost");
    const entered = await elsewhere.call("POST", "/api/v1/session", {
      body: { email: "dana@saltmarsh.example", password: "tide tables on the fridge" },
    });
    expect([entered.status, (await elsewhere.api("/me")).status]).toEqual([200, 200]);
    await b.press("Dana Achterberg");
    await b.seesText("Where you are signed in");
    expect(await b.count("//section[@aria-labelledby='places']//li")).toBe(2);
    await b.press("Sign out everywhere else");
    await b.until(async () => (await b.count("//section[@aria-labelledby='places']//li")) === 1);
    expect((await elsewhere.api("/me")).status).toBe(401);
    await b.go(linkIn(mail));
    await b.until(async () => !(await b.driver.getCurrentUrl()).includes("/link/")); // in already: it has done its work
  } finally {
    await b.close();
  }
  const again = new Client(port, "fernhill.localhost");
  const enter = (password: string) => again.call("POST", "/api/v1/session", { body: { email: "dana@saltmarsh.example", password } });
  expect([(await enter("dana-reads-every-sign")).status, (await enter("tide tables on the fridge")).status]).toEqual([401, 200]);
});

it("a link that was asked for takes a code on another device, or is asked for there", { timeout: 120_000 }, async () => {
  const [desk, phone] = await Promise.all([openBrowser(), openBrowser(390, 844)]);
  const email = "bram@pellquay.example";
  try {
    const had = mailTo(data, email).length;
    await desk.go(portal("/-/forgotten"));
    await desk.type("#email", email);
    await desk.press("Send me a link");
    await desk.seesText("On another device it asks for this code:");
    const code = /asks for this code: (\d{3} \d{3})/.exec(await desk.text())![1]!;
    const link = linkIn(await comes(email, had));
    await phone.go(link);
    await phone.seesText("You asked for this link in another browser or on another device.");
    await phone.type("#code", "000000");
    await phone.press("Go in as Bram Ellacott");
    await phone.seesText("This is not the code that is shown where you asked.");
    await phone.press("Send me another, to open here");
    await phone.seesText("A fresh one is on its way");
    const own = linkIn(await comes(email, had + 1));
    await desk.go(own);
    await desk.seesText("You asked for this link in another browser");
    await phone.go(own);
    await phone.press("Go in as Bram Ellacott");
    await phone.until(async () => (await phone.driver.getCurrentUrl()).includes("/new-password"));
    // What the desk asked for has been replaced; a new one opens elsewhere by the desk's code, which is the browser's.
    await desk.go(link);
    await desk.seesText("A newer link has been sent since");
    expect(code).toMatch(/^\d{3} \d{3}$/);
  } finally {
    await Promise.all([desk.close(), phone.close()]);
  }
});
