/** The people desk: a list invited in one go, a table made people, records of one person merged, and the portal looked at as others find it. */

import { resolve } from "node:path";
import { afterAll, beforeAll, expect, it } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import { published } from "@/data/definition/published";
import { portalFile } from "@/data/file/open";
import { Desk } from "@/data/records/desk";
import { addField, addTable } from "@/data/tables/change";
import { schemaOf } from "@/data/tables/read";
import { testViewer } from "@/testing/world";
import { answersOwnerAlone, catchActions, caughtActions } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { Client } from "../support/client";
import { signInToOffice } from "../support/people";
import { mailComes } from "../support/post";
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

/** What only the actions themselves would say. */
const SAID = /"made":|"trials":|"rows":|"invited":|"given":|"message":/;

/** A table of contacts with what an owner meets: somebody who is a person already, and somebody without an address. */
function makeContacts(): void {
  process.env.ELKHORN_DATA = data;
  const file = portalFile("fernhill")!;
  const owner_ = testViewer({ kind: "owner", company: null }) as Owner;
  const contacts = addTable(file, {
    slug: "contacts",
    name: "Contacts",
    singular: "Contact",
    fields: [
      { slug: "name", name: "Name", type: "text" },
      { slug: "mail", name: "Mail", type: "email" },
      { slug: "firm", name: "Firm", type: "relation", options: { target: "t_companies" } },
    ],
  });
  const signs = schemaOf(file).tableBySlug("signs")!;
  const field = addField(file, signs.id, { slug: "contact", name: "Contact", type: "relation", options: { target: contacts } });
  const table = schemaOf(file).table(contacts);
  const [name, mail, firm] = table.fields.map((f) => f.id) as [string, string, string];
  const desk = new Desk(file, published(file).policy, owner_);
  const saltmarsh = file.db.prepare("SELECT id FROM t_companies WHERE f_company_name LIKE 'Saltmarsh%'").pluck().get() as string;
  const add = (who: string, at: string | null): string => {
    const done = desk.add(table, { [name]: who, [mail]: at, [firm]: saltmarsh });
    if (!done.ok) throw new Error(JSON.stringify(done.error));
    return done.value.id;
  };
  const one = add("Contact One", "one@saltmarsh.example");
  add("Contact Two", "two@saltmarsh.example");
  add("Dana Achterberg", "dana@saltmarsh.example");
  add("Nobody's Address", null);
  const code = signs.fields.find((f) => f.id === signs.labelFieldId)!.id;
  file.db.prepare(`UPDATE "${signs.id}" SET "${field}" = ? WHERE "${code}" = 'SA-101'`).run(one);
}

const LIST = [
  "Name;E-mail;Company;Roles",
  "Ode Marsh;ode@saltmarsh.example;Saltmarsh Infirmary Group;Site manager",
  "Ivo Quill;ivo@newpier.example;New Pier Theatre;",
  "Dana Achterberg;dana@saltmarsh.example;Saltmarsh Infirmary Group;",
  "No Address;;Saltmarsh Infirmary Group;",
  "Ode Again;ODE@saltmarsh.example;Saltmarsh Infirmary Group;",
].join("\n");

it("a list is looked at, brought in and invited; each comes in by the link that came", { timeout: 120_000 }, async () => {
  await owner.go(office("/people"));
  await owner.press("Invite from a list");
  await owner.type("textarea", LIST);
  await owner.click("h1");
  await owner.seesText("5 people");
  // A company is made where that is asked for; the role that allows least stands there until another is chosen.
  await owner.seesText("1 new, 1 here already, 3 left out");
  await owner.click("//label[normalize-space()='Make companies that are not there yet']//input");
  for (const role of ["Member", "Lead"]) await owner.click(`//label[normalize-space()='${role}']//input`);
  await owner.seesText("2 new, 1 here already, 2 left out");
  await catchActions(owner);
  await owner.seesText("Companies that are made: New Pier Theatre.");
  const told = await owner.text();
  expect(told).toContain("It has no e-mail address.");
  expect(told).toContain("The same address stands on line 2.");
  await owner.press("Invite 3 people");
  await owner.seesText("3 people invited");
  const asked = await caughtActions(owner);
  const link = /http\S+\/link\/\S+/.exec(await mailComes(data, "ivo@newpier.example"))![0];
  const ivo = await openBrowser();
  try {
    await ivo.go(link);
    await ivo.press("Go in as Ivo Quill");
    await ivo.seesText("Ivo Quill");
  } finally {
    await ivo.close();
  }
  await owner.press("See how each goes");
  await owner.press("A sheet to print");
  await owner.seesText("Invitations to hand over");
  expect(await owner.count("svg[aria-label='The link as a code']")).toBe(2); // Ivo's link is used
  await answersOwnerAlone(port, owner, asked, "/portals/fernhill/people/from-list", SAID);
});

it("temporary passwords are shown once, on a sheet, and open the page that replaces them", { timeout: 120_000 }, async () => {
  await owner.go(office("/people?q=ode"));
  await owner.click('input[aria-label="Choose Ode Marsh"]');
  await owner.press("Invite…");
  await owner.press("Temporary passwords instead");
  await owner.seesText("They are shown this once");
  const password = await owner.attribute("section[aria-label='Temporary passwords'] code", "textContent");
  const ode = await openBrowser();
  try {
    await ode.go(portal("/sign-in"));
    await ode.type("#email", "ode@saltmarsh.example");
    await ode.type("#password", password);
    await ode.press("Sign in");
    await ode.seesText("Choose a password");
  } finally {
    await ode.close();
  }
});

it("a table is made people: tried, then done, and what named a record names the person", { timeout: 120_000 }, async () => {
  makeContacts();
  await owner.go(office("/data/contacts/shape"));
  await owner.press("Make them people or companies");
  await owner.seesText("Contacts as people or companies");
  await owner.click("//label[normalize-space()='Member']//input");
  await catchActions(owner);
  await owner.press("See what it does");
  await owner.seesText("Choose at least one role that people of a company hold at first.");
  await owner.click("//label[normalize-space()='Lead']//input");
  await owner.press("See what it does");
  await owner.seesText("2 contacts become people");
  const told = await owner.text();
  expect(told).toContain("One contact is a person already: Dana Achterberg.");
  expect(told).toContain("It has no e-mail address.");
  expect(told).toContain("Contact of Signs leads to people from then on.");
  await answersOwnerAlone(port, owner, await caughtActions(owner), "/portals/fernhill/data/contacts/make", SAID);
  await owner.press("Make them people");
  await owner.seesText("2 of Contacts are people now.");
  await owner.go(office("/people?q=contact+one"));
  await owner.press("Contact One");
  await owner.seesText("Saltmarsh Infirmary Group, as Lead");
  await owner.go(office("/data/signs?q=SA-101"));
  await owner.seesText("Contact One");
});

it("two records of one person become one, and the undo of it brings both back", { timeout: 120_000 }, async () => {
  await owner.go(office("/people?q=piers"));
  await owner.press("Piers Wold");
  await owner.press("Merge or remove");
  const page = new URL(await owner.driver.getCurrentUrl()).pathname;
  await catchActions(owner);
  await owner.press("Choose the other record…");
  await owner.keys("dialog[open] input[cmdk-input]", "contact two\n");
  await owner.seesText("Make them one");
  await owner.press("See what it does");
  await owner.seesText("own way of signing in ends");
  await answersOwnerAlone(port, owner, await caughtActions(owner), page, SAID);
  await owner.press("Make them one");
  await owner.seesText("Contact Two is part of Piers Wold now.");
  const listed = async (): Promise<boolean> => {
    await owner.go(office("/people?q=contact"));
    return (await owner.text()).includes("Contact Two");
  };
  await owner.press("Undo");
  await owner.seesText("Contact Two is back.");
  await owner.until(listed);
});

/** Out of see-as, and in the office again. */
const back = async (): Promise<void> => {
  await owner.press("Back to the back office");
  await owner.until(async () => (await owner.driver.getCurrentUrl()).startsWith(office("")));
};

it("looked at as a visitor, as who waits, and as who was never in", { timeout: 120_000 }, async () => {
  await owner.go(office("/check"));
  await owner.press("See as…");
  await owner.press("As a visitor, signed out");
  await owner.seesText("You see the portal as a visitor. Nothing can be changed.");
  await back();
  await owner.go(office("/people?standing=not+invited+yet"));
  const name = (await owner.texts("section[aria-labelledby=people] tbody td a"))[0]!;
  await owner.press(name);
  await owner.press(`See as ${name.split(" ")[0]}`);
  await owner.seesText("They have not been in yet: this is what they will find.");
  await back();
  await owner.go(office("/people?standing=awaiting+approval"));
  const waits = (await owner.texts("section[aria-labelledby=people] tbody td a"))[0]!;
  await owner.press(waits);
  await owner.press(`See as ${waits.split(" ")[0]}`);
  await owner.seesText("who waits for approval. Nothing can be changed.");
  await back();
});

it("a standing link lets in again and again until it is taken back; a face is cut and kept; a last day ends it", {
  timeout: 120_000,
}, async () => {
  await owner.go(office("/people/doors"));
  await owner.click("//label[contains(.,'Standing link')]//input");
  await owner.press("Keep");
  await owner.seesText("Kept. It counts from the next sign-in on.");
  await owner.go(office("/people?q=noor"));
  await owner.press("Noor Haddow");
  await owner.press("Make a standing link for Noor Haddow");
  await owner.seesText("It is shown this once.");
  const link = await owner.attribute("section[aria-labelledby=standing] input", "value");
  const page = await owner.driver.getCurrentUrl();
  const wall = await openBrowser();
  try {
    for (let i = 0; i < 2; i++) {
      await wall.go(link);
      await wall.press("Go in as Noor Haddow");
      await wall.until(async () => !(await wall.driver.getCurrentUrl()).includes("/link/"));
      await wall.driver.manage().deleteAllCookies();
    }
    await owner.go(page);
    expect(await owner.count("section[aria-labelledby=standing] h3 ~ ul li")).toBe(2);
    await wall.go(link);
    await wall.press("Go in as Noor Haddow");
    await wall.until(async () => !(await wall.driver.getCurrentUrl()).includes("/link/"));
    await wall.go(portal("/-/me"));
    const chooser = await wall.find('input[aria-label="Choose a picture"]');
    await chooser.sendKeys(resolve(import.meta.dirname, "../../docs/screenshots/portal-home.png"));
    await wall.press("Keep this picture");
    await wall.until(async () => (await wall.count("img[alt='Your picture'][src^='data:image/webp']")) === 1);
    await owner.press("Take it back");
    await owner.until(async () => (await owner.count("//section[@aria-labelledby='standing']//button[.='Take it back']")) === 0);
    await wall.driver.manage().deleteAllCookies();
    await wall.go(link);
    await wall.seesText("has been taken back");
  } finally {
    await wall.close();
  }
  await owner.type("#until", "01012020");
  await owner.click("//section[@aria-labelledby='account']//button[.='Keep']");
  await owner.seesText("After that day they are out.");
  await owner.seesText("expired");
});

it("what the owner posts here is answered to nobody else", { timeout: 60_000 }, async () => {
  const anon = new Client(port, "localhost");
  for (const path of ["/people/from-list", "/people/outbox/sheet?batch=x", "/data/sites/make", "/people/companies/x"])
    expect((await anon.get(`/portals/fernhill${path}`)).status, path).toBe(307);
});
