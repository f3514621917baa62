/** The owner's afternoon: bring data in, open a little of it, invite people; two companies each see only their own. */
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Key } from "selenium-webdriver";
import { afterAll, beforeAll, expect, it } from "vitest";
import { answersOwnerAlone, catchActions, caughtActions } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { Client, signedIn } from "../support/client";
import { signInAt, signInToOffice } from "../support/people";
import { ownServer } from "../support/server";

const { port } = await ownServer();
const office = (path: string): string => `http://localhost:${port}/portals/fernhill${path}`;
const portal = (path: string): string => `http://fernhill.localhost:${port}${path}`;
const folder = mkdtempSync(join(tmpdir(), "elkhorn-csv-"));
const ALL = Key.chord(Key.CONTROL, "a");
let owner: Browser;

beforeAll(async () => {
  owner = await openBrowser();
  await signInToOffice(owner, port);
});
afterAll(async () => {
  await owner.close();
  rmSync(folder, { recursive: true, force: true });
});

async function drop(name: string, content: string | Buffer): Promise<void> {
  const path = join(folder, name);
  writeFileSync(path, content);
  await owner.go(office("/data/import"));
  await owner.keys("#file", path);
}

it.each([
  ["empty.csv", "", "is empty"],
  [
    "picture.csv",
    Buffer.from("89504e470d0a1a0a0000000d49484452000000010000000108060000001f15c489", "hex"),
    "This is a PNG file, whatever its name says.",
  ],
  ["letter.docx", Buffer.from("504b0304140000000800", "hex"), "This workbook cannot be read"],
  ["lines.jsonl", '{"name": "a"}\nnothing\n', "Line 2 is not JSON."],
  ["quote.csv", 'Name,Site\na,b\n"c,d\ne,f\n', "A quotation mark opened on line 3 is never closed"],
  ["header.csv", "Name,Site\n", "has a header but no rows"],
])("%s is refused with a sentence", async (name, content, words) => {
  await drop(name, content);
  await owner.seesText(words);
});

it("a file of 51 MB is refused, by the page and by the server", async () => {
  const big = Buffer.alloc(51 * 1024 * 1024, "a,b\n");
  await drop("big.csv", big);
  await owner.seesText("is larger than 50 MB");
  const cookie = (await owner.driver.manage().getCookies()).map((c) => `${c.name}=${c.value}`).join("; ");
  const client = new Client(port, "localhost");
  const answer = await client.call("POST", "/portals/fernhill/data/import/upload", {
    raw: big,
    headers: { cookie, origin: `http://localhost:${port}` },
  });
  expect([answer.status, answer.json.message]).toEqual([
    413,
    "The file is larger than 50 MB. Split it and import the parts one after the other.",
  ]);
});

const CSV =
  "\ufeffName;Customer;Value;Checked;Count\r\n" +
  '"Ladder; 3 m";Saltmarsh Infirmary Group;£120.50;03/11/2026;4\r\n' +
  "Torque key;Pell & Quay Ferries;£18;14/02/2026;1\r\n" +
  "Drill;saltmarsh infirmary group;£99;31/01/2026;two\r\n" +
  "Lamp;Pell & Quay Ferries;£5\r\n" +
  '=HYPERLINK("http://evil.example");Saltmarsh Infirmary Group;£7;01/01/2026;9\r\n';

it("a CSV is mapped, checked and brought in; bad rows are named by line, column and reason", async () => {
  await drop("tools.csv", CSV);
  await owner.seesText("5 rows, 5 columns");
  expect(await owner.attribute('[aria-label="The column that says whose they are"]', "value")).toBe("1"); // found by the companies' names
  const type = (nth: number): string => `(//select[starts-with(@aria-label, 'Type of')])[${nth}]`;
  expect(await Promise.all([1, 2, 3, 4, 5].map((nth) => owner.attribute(type(nth), "value")))).toEqual([
    "text",
    "relation",
    "money",
    "date",
    "text",
  ]);
  await owner.choose(type(5), "Number");
  await owner.press("Check all rows");
  await owner.seesText(/New\s+3\s+Wrong\s+2/);
  await owner.seesText("“two” is not a number.");
  await owner.seesText("It has 3 cells where the row of names has 5.");
  expect(await owner.texts("tbody td.num")).toEqual(["4", "5"]);
  await owner.press("Bring in 3 new records");
  await owner.seesText("Ladder; 3 m");
  await owner.seesText("£120.50");
  await owner.seesText("3 Nov 2026");
});

/** The file of tools as a table of another name, without looking at each step. */
async function bringIn(name: string): Promise<void> {
  await drop(`${name.toLowerCase()}.csv`, CSV);
  await owner.seesText("5 rows, 5 columns");
  await owner.choose("//label[contains(.,'Into')]//select", "A new table"); // and not into the one of the last file of these columns
  await owner.until(async () => (await owner.count("//label[contains(.,'Its name')]")) === 1);
  await owner.click("//label[contains(.,'Each company sees its own')]/input");
  await owner.choose("(//select[starts-with(@aria-label, 'Type of')])[5]", "Number");
  await owner.press("Check all rows");
  await owner.press("Bring in 3 new records");
  await owner.seesText("Ladder; 3 m");
}

it("the new table is closed until a grant opens it and the draft is published", async () => {
  await bringIn("Gadgets");
  const dana = await signedIn(port, "dana@saltmarsh.example");
  expect((await dana.api("/tables/gadgets/records")).status).toBe(404);
  await owner.go(office("/access/grants/new?table=gadgets"));
  await owner.click("//label[normalize-space(.)='Lead']/input");
  await owner.click("//label[normalize-space(.)='export']/input");
  for (const f of ["Name", "Customer", "Checked"]) await owner.click(`[aria-label="${f} is seen"]`);
  await owner.press("Keep in the draft");
  await owner.seesText("Lead may see and export Gadgets.");
  await owner.seesText("Draft, not yet published");
  expect((await dana.api("/tables/gadgets/records")).status).toBe(404); // a draft holds for nobody
  await owner.go(office("/publish"));
  await owner.seesText("Lead may see and export Gadgets.");
  const next = /Publish version (\d+)/.exec(await owner.text())![1];
  await owner.press(`Publish version ${next}`);
  await owner.seesText(`Version ${next} is live.`);
  const seen = await dana.api("/tables/gadgets/records");
  expect(seen.json.records.map((r: { fields: { name: string } }) => r.fields.name).sort()).toEqual([
    '=HYPERLINK("http://evil.example")',
    "Ladder; 3 m",
  ]);
  expect(Object.keys(seen.json.records[0].fields).sort()).toEqual(["checked", "customer", "name"]);
  const rafe = await signedIn(port, "rafe@pellquay.example");
  expect((await rafe.api("/tables/gadgets/records")).json.total).toBe(1);
  const csv = (await dana.api("/tables/gadgets/export")).text;
  expect(csv).toContain(`"'=HYPERLINK(""http://evil.example"")"`); // text for a spreadsheet, not a formula
});

it("a person is added and invited; the text carries the portal's address; the link works once", async () => {
  await owner.go(office("/people/new"));
  await owner.type("#name", "Tamsin Crale");
  await owner.type("#email", "not an address");
  await owner.keys("#company", "Saltmarsh");
  await owner.press("Add the person");
  await owner.seesText("Write an e-mail address like");
  await owner.type("#email", "tamsin@saltmarsh.example");
  await owner.keys("#company", "Saltmarsh");
  await owner.click("//label[normalize-space(.)='Lead']/input");
  await owner.press("Add the person");
  await owner.seesText("Tamsin Crale has been added.");
  await owner.go(office("/people?q=tamsin"));
  await owner.press("Tamsin Crale");
  await owner.press("Invite with a sign-in link");
  const text = await owner.attribute("#invitation", "value");
  expect(text).toContain(`http://fernhill.localhost:${port}\n`);
  const link = /http:\/\/\S+\/link\/\S+/.exec(text)![0];

  const tamsin = await openBrowser();
  try {
    await new Client(port, "fernhill.localhost").get(new URL(link).pathname); // a mail scanner looks first
    await tamsin.go(link);
    await tamsin.press("Go in as Tamsin Crale");
    await tamsin.seesText("Choose a password");
    await tamsin.type("#password", "short");
    await tamsin.press("Keep this password");
    await tamsin.seesText("Use at least 15 characters.");
    await tamsin.type("#password", "quiet walnut under rain");
    await tamsin.press("Keep this password");
    await tamsin.seesText("Welcome, Tamsin.");
    // Common practice, no source: a newly added colleague sees at once all that the company's leads see.
    const dana = await signedIn(port, "dana@saltmarsh.example");
    const total = (await dana.api("/tables/signs/records?limit=1")).json.total;
    await tamsin.go(portal("/signs"));
    await tamsin.seesText(`of ${total}`);
    // Two people of one company see what either adds; a third of another company sees neither.
    const added = await dana.call("POST", "/api/v1/tables/requests/records", {
      body: { fields: { subject: "Shared between colleagues" } },
    });
    expect(added.status).toBe(201);
    await tamsin.go(portal("/requests?q=Shared+between"));
    await tamsin.seesText("1 to 1 of 1");
    const rafe = await signedIn(port, "rafe@pellquay.example");
    expect((await rafe.api("/tables/requests/records?q=Shared%20between")).json.total).toBe(0);

    await tamsin.press("Sign out");
    await tamsin.go(link);
    await tamsin.seesText("This link has been used already.");

    // Inactive is out at once.
    await signInAt(tamsin, portal("/sign-in"), "tamsin@saltmarsh.example", "quiet walnut under rain");
    await tamsin.go(portal("/requests/new"));
    const subject = "//label[normalize-space(.)='Subject']/following::input[1]";
    await tamsin.keys(subject, "Typed while the door closed");
    await owner.press("Make inactive");
    await owner.seesText("inactive");
    await tamsin.press("Add the request");
    await tamsin.seesText("You are no longer signed in here");
    expect(await tamsin.attribute(subject, "value")).toBe("Typed while the door closed");
    expect((await dana.api("/tables/requests/records?q=door%20closed")).json.total).toBe(0);
    await tamsin.go(portal("/signs"));
    await tamsin.seesText("Sign in");
  } finally {
    await tamsin.close();
  }
});

it("a membership that was ended is given back from the notice, by the owner alone", async () => {
  await owner.go(office("/people?q=gwen"));
  await owner.press("Gwen Harrop");
  await owner.seesText("Tarnmere College, as Lead");
  await catchActions(owner);
  const signs = "/tables/signs/records?limit=1";
  const gwen = await signedIn(port, "gwen@tarnmere.example");
  const before = (await gwen.api(signs)).json.total;
  expect(before).toBeGreaterThan(0);
  await owner.press("End it: the membership in Tarnmere College");
  await owner.seesText("No membership: signed in, they would see nothing.");
  expect((await gwen.api(signs)).status).toBe(401); // who acted by it is out at once
  await owner.press("Undo");
  await owner.seesText("Tarnmere College, as Lead");
  const again = await signedIn(port, "gwen@tarnmere.example");
  expect((await again.api(signs)).json.total).toBe(before);
  const asked = await caughtActions(owner);
  expect(asked.length).toBe(2);
  // Posted again they have nothing to do, and say so.
  const page = new URL(await owner.driver.getCurrentUrl()).pathname;
  await answersOwnerAlone(port, owner, asked, page, /"ok":/);
  expect((await again.api(signs)).json.total).toBe(before);
});

it("adding a person keeps the ticked roles after a mistake, and a change of roles begins from those that are held", async () => {
  await owner.go(office("/people/new"));
  await owner.type("#name", "Odile Quarry");
  await owner.type("#email", "no address");
  const ticked = () =>
    owner.texts("//label[input[@type='checkbox' and @name='roles']]").then(async (all) => {
      const on = await owner.driver.executeScript<boolean[]>(
        "return [...document.querySelectorAll('input[name=roles]')].map((x) => x.checked)",
      );
      return all.filter((_, i) => on[i]);
    });
  await owner.choose("#company", "Tarnmere College");
  // The role that allows least stands there until somebody chooses otherwise.
  const [least, ...more] = await ticked();
  expect([least, more]).toEqual(["Member", []]);
  for (const role of [least, "Site manager"]) await owner.click(`//label[normalize-space()='${role}']/input`);
  await owner.press("Add the person");
  await owner.seesText("Write an e-mail address like");
  expect([(await owner.attribute("#company", "value")) !== "", await ticked()]).toEqual([true, ["Site manager"]]);
  await owner.type("#email", "odile@tarnmere.example");
  await owner.press("Add the person");
  await owner.seesText("Odile Quarry has been added.");
  await owner.go(office("/people?q=odile"));
  await owner.press("Odile Quarry");
  await owner.press("See as Odile");
  await owner.seesText("They have not been in yet: this is what they will find.");
  await owner.press("Back to the back office");
  await owner.seesText("What one person sees of each table");
  await owner.go(office("/people?q=odile"));
  await owner.press("Odile Quarry");
  await owner.click("//summary[contains(.,'change its roles')]");
  await owner.choose("#company", "Tarnmere College");
  await owner.seesText("Ticked are the roles they hold there now.");
  expect(await ticked()).toEqual(["Site manager"]);
});

it("a temporary password forces a new one before anything else", async () => {
  await owner.go(office("/people?q=edda"));
  await owner.press("Edda Birkin");
  await owner.press("Invite with a temporary password");
  const text = await owner.attribute("#invitation", "value");
  const password = text.trim().split("\n").pop()!;
  const api = new Client(port, "fernhill.localhost");
  const session = await api.call("POST", "/api/v1/session", { body: { email: "edda@kestrel.example", password } });
  expect([session.status, session.json.passwordNeeded]).toEqual([200, true]);
  // Nothing before the new password, and that is said.
  for (const path of ["/me", "/tables/signs/records"])
    expect((await api.api(path)).json).toMatchObject({ status: 401, type: "password-needed" });
  const edda = await openBrowser();
  try {
    await signInAt(edda, portal("/sign-in?to=%2Fsigns"), "edda@kestrel.example", password);
    await edda.seesText("Choose a password");
    await edda.type("#password", password);
    await edda.press("Keep this password");
    await edda.seesText("differs from the one you were given");
    await edda.type("#password", "lido at seven in the morning");
    await edda.press("Keep this password");
    await edda.until(async () => (await edda.driver.getCurrentUrl()).endsWith("/signs"));
    // The header and the menu are hers at once, without loading anything anew.
    await edda.seesText("Sign out");
    expect(await edda.count("//header//a[normalize-space()='Sign in']")).toBe(0);
    expect(await edda.count("//nav//a[normalize-space()='Signs']")).toBe(1);
    // Another one asks for the present one; with it the session that was ends.
    const before = await edda.driver.manage().getCookies();
    await edda.go(portal("/new-password"));
    await edda.type("#present", "lido at six in the morning");
    await edda.type("#password", "lido at eight in the morning");
    await edda.press("Keep this password");
    await edda.seesText("This is not your present password.");
    await edda.type("#present", "lido at seven in the morning");
    await edda.press("Keep this password");
    await edda.until(async () => !(await edda.driver.getCurrentUrl()).includes("/new-password"));
    await edda.seesText("Sign out");
    const old = new Client(port, "fernhill.localhost");
    old.cookie = before.map((c) => `${c.name}=${c.value}`).join("; ");
    expect((await old.api("/me")).status).toBe(401);
  } finally {
    await edda.close();
  }
});

it("see as: read-only, with a banner, counts and the way back", async () => {
  await owner.go(office("/check"));
  await owner.press("See as…");
  await owner.keys("dialog[open] input[cmdk-input]", "piers wold\n");
  await owner.seesText("You see the portal as Piers Wold of Saltmarsh Infirmary Group (Site manager). Nothing can be changed.");
  expect(await owner.driver.getCurrentUrl()).toBe(portal("/"));
  await owner.go(portal("/signs"));
  await owner.seesText("Signs: sees ");
  expect(await owner.text()).toMatch(/Signs: sees \d+ of 1,239/);
  expect(await owner.count("//a[contains(.,'Add a ')]")).toBe(0);
  await owner.go(portal("/requests/new"));
  await owner.seesText("Piers can send this form. You only look, so nothing is sent.");
  expect(await owner.attribute("button[type=submit][disabled]", "aria-describedby")).toBe("closed");
  const cookie = (await owner.driver.manage().getCookies()).map((c) => `${c.name}=${c.value}`).join("; ");
  expect(cookie).not.toContain("elkhorn_office"); // the office's session does not come to the portal's host
  const api = new Client(port, "fernhill.localhost");
  const write = await api.call("POST", "/api/v1/tables/requests/records", {
    body: { fields: { subject: "As Piers" } },
    headers: { cookie, origin: `http://fernhill.localhost:${port}` },
  });
  expect(write.status).toBe(403);
  const me = () => api.get("/api/v1/me", { headers: { cookie } });
  expect((await me()).json.name ?? (await me()).json.person?.name).toBe("Piers Wold");
  await owner.press("Back to the back office");
  await owner.seesText("What one person sees of each table");
  // What was copied meanwhile is worth nothing without the back-office session that it names.
  expect((await me()).status).toBe(200);
  await owner.press("Sign out");
  await owner.seesText("Sign in");
  expect((await me()).status).toBe(401);
  await signInToOffice(owner, port);
});

it("the grid: a cell is edited in place, bad input is told, a removal is undone", async () => {
  await owner.go(office("/data/invoices?q=F-4101"));
  const box = 'td input[aria-label="Amount"]';
  await owner.click('[data-cell="0 4"]');
  await owner.keys(box, ALL, "lots\n");
  await owner.seesText("“lots” is not an amount of money.");
  await owner.keys(box, ALL, "1,234.50\n");
  await owner.seesText("£1,234.50");
  await owner.press("Remove this invoice");
  await owner.seesText("Invoice F-4101 is removed.");
  await owner.press("Undo");
  await owner.seesText("is back");
  await owner.go(office("/data/invoices?q=F-4101"));
  await owner.seesText("£1,234.50");
});

it("two edits of one record: the second is told, sees what is there now, and loses nothing", async () => {
  const other = await openBrowser();
  try {
    await signInToOffice(other, port);
    const url = office("/data/documents?sort=title");
    await Promise.all([owner.go(url), other.go(url)]);
    const edit = async (b: Browser, words: string): Promise<void> => {
      await b.click('[data-cell="0 0"]');
      await b.keys('td input[aria-label="Title"]', ALL, `${words}\n`);
    };
    await edit(owner, "A first title");
    await owner.seesText("A first title");
    await edit(other, "A second title");
    await other.seesText("Somebody changed this record meanwhile.");
    await other.seesText("Now: A first title");
    expect(await other.attribute('td input[aria-label="Title"]', "value")).toBe("A second title");
    await other.keys('td input[aria-label="Title"]', "\n"); // knowing it, over it
    await other.seesText("A second title");
  } finally {
    await other.close();
  }
});
