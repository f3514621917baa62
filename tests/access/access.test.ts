/** An owner who has not seen Elkhorn before: who sees what and why, what a change would do, and the way back. */
import { Key } from "selenium-webdriver";
import { afterAll, beforeAll, beforeEach, expect, it } from "vitest";
import { answersOwnerAlone, catchActions, caughtActions } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { Client, signedIn } from "../support/client";
import { signInToOffice, withoutDraft } from "../support/people";
import { ownServer } from "../support/server";

const { port } = await ownServer({ paths: true });
const office = (path: string): string => `http://localhost:${port}/portals/fernhill${path}`;
const ALL = Key.chord(Key.CONTROL, "a");
let owner: Browser;

beforeAll(async () => {
  owner = await openBrowser();
  await signInToOffice(owner, port);
});
beforeEach(() => withoutDraft(owner, port));
afterAll(() => owner.close());

const cell = (who: string, table: string): Promise<string> =>
  owner.attribute(`.sights a[title^="${who} sees"][title*=" ${table}"]`, "title");
const choose = (label: string, value: string): Promise<void> => owner.choose(`select[aria-label="${label}"]`, value);
const cookies = async (): Promise<string> => (await owner.driver.manage().getCookies()).map((c) => `${c.name}=${c.value}`).join("; ");

it("sightlines: everybody against every table, filtered, with zeros explained and two compared", async () => {
  await owner.go(office("/sightlines"));
  await owner.seesText("Tick two people to compare them.");
  expect(await cell("Ines Fairlough", "Signs")).toBe("Ines Fairlough sees 1,239 of 1,239 Signs, may change 1,239 and remove 1,239");
  await owner.type('input[type="search"]', "dana");
  await owner.seesText(/^1 of \d+ lines/m);
  expect(await owner.driver.getCurrentUrl()).toContain("q=dana");
  expect(await cell("Dana Achterberg", "Signs")).toContain("sees 308 of 1,239 Signs, may change 0 and remove 0, 1 field never seen");
  expect(await cell("Dana Achterberg", "Price book")).toBe("Dana Achterberg sees 0 of Price book. The agency keeps Price book to itself.");
  // A figure opens its records; each says why.
  await owner.click('.sights a[title*=" Signs,"]');
  await owner.seesText("Dana Achterberg sees 308 of 1,239 signs");
  expect(await owner.text()).not.toContain("not seen");
  await owner.press("Not seen");
  await owner.seesText("BR-101");
  await owner.click("ul details summary");
  await owner.seesText("The wall refuses: it belongs to another company.");
  // Adding is told of the table: there is no record yet.
  await owner.seesText("May not add signs.");
  await owner.click("details summary");
  await owner.seesText("No grant lets the person's roles add Signs.");
  await owner.go((await owner.driver.getCurrentUrl()).replace("/check/signs", "/check/requests"));
  await owner.seesText("Sets Subject, Kind, Urgency, Site, Message.");
  // By role, and the roles alone with the least and the most that their holders see.
  await owner.go(office("/sightlines"));
  await owner.seesText("Tick two people to compare them.");
  await owner.press("Role");
  await owner.press("Groups only");
  await owner.seesText("with the fewest and the most that anybody of them sees");
  expect(await owner.driver.getCurrentUrl()).toMatch(/by=role.*show=groups/);
  const [workshop] = await owner.texts("//tr[th[starts-with(normalize-space(), 'Workshop')]]");
  expect(workshop!.replaceAll(/\s+/g, " ")).toMatch(/^Workshop 1 0 0 20 24 1,?239 140 \d/);
  await owner.go(office("/sightlines?company=Saltmarsh+Infirmary+Group"));
  for (const name of ["Dana Achterberg", "Piers Wold"]) await owner.click(`input[aria-label^="Compare ${name}"]`);
  await owner.press("Compare the two");
  await owner.seesText("Dana Achterberg beside Piers Wold");
  await owner.seesText("Dana Achterberg: Project. Piers Wold: none.");
});

it("what the back office's screens load tells nothing to a client, on another portal's host, or signed out", async () => {
  const dana = await signedIn(port, "dana@saltmarsh.example");
  const ines = await signedIn(port, "ines@fernhill.example"); // the agency's, but not the back office's
  const inside = await signedIn(port, "dana@saltmarsh.example", "localhost", "/p/fernhill");
  const main = new Client(port, "localhost");
  for (const path of [
    "/sightlines/data",
    "/people/named?q=a",
    "/progress/tally",
    "/progress/findings",
    "/progress/impact",
    "/progress/safeguards",
  ].map((x) => `/portals/fernhill${x}`)) {
    const told = (a: { status: number; text: string }) => [a.status, /Saltmarsh|Dana|"state"|"people"/.test(a.text)];
    expect([path, told(await main.get(path))]).toEqual([path, [307, false]]);
    expect(told(await new Client(port, "fernhill.localhost").get(path))).toEqual([404, false]);
    for (const who of [dana, ines]) {
      const answer = await who.get(path);
      // The portal's own page, which greets them by name, is all they get.
      expect([answer.status, /"state":|"people":\[/.test(answer.text)]).toEqual([404, false]);
    }
    expect(told(await main.get(path, { headers: { cookie: inside.cookie } }))).toEqual([307, false]);
    const mine = await main.get(path, { headers: { cookie: await cookies() } });
    expect([mine.status, mine.headers["cache-control"]]).toEqual([200, "no-store"]);
  }
  expect((await main.get("/portals/fernhill/progress/constructor", { headers: { cookie: await cookies() } })).status).toBe(404);
});

it("what the editors ask the server answers to the owner alone, however the question is posted", async () => {
  await owner.go(office("/access/grants/new?table=signs"));
  await owner.seesText("Matches 1,239 of 1,239 Signs");
  await catchActions(owner);
  await owner.press("Add a test");
  await choose("Field", "Site");
  await choose("Compared with", "these records:");
  await owner.keys('input[aria-label="Find a record by name"]', "butter");
  await owner.until(async () => (await owner.texts("[role=option]")).join() === "Butter hall");
  await owner.click("[role=option]");
  await owner.until(async () => (await caughtActions(owner)).length >= 3);
  const asked = await caughtActions(owner);
  expect(new Set(asked.map((a) => a.id)).size).toBeGreaterThan(1); // counting and finding by name
  await answersOwnerAlone(port, owner, asked, "/portals/fernhill/access", /"matches":|"problems":|"label":/);
});

it("findings: the mistakes made on purpose are found, each with its way to mend it", async () => {
  await owner.go(office("/findings"));
  await owner.seesText("1 record of Signs belongs to no company: Project › Company leads nowhere. No client sees it.");
  await owner.seesText("Alban Reeve belongs to no company");
  await owner.seesText("A grant can never match: Kind is “Drawing” and Kind is “Report” exclude each other.");
  await owner.press("Show them");
  await owner.seesText("Belong to no company");
  expect(await owner.count('[data-cell$=" 0"]')).toBe(1);
});

it("a record: who sees it, and why somebody does not", async () => {
  await owner.go(office("/data/signs?q=SA-101"));
  await owner.click('a[aria-label="Who sees this sign, and why"]');
  await owner.seesText(/Belongs to Saltmarsh Infirmary Group. \d of \d+ see it\./);
  await owner.click('//option[starts-with(., "Bram Ellacott")]');
  await owner.seesText("Bram Ellacott does not see it.");
  await owner.seesText("The wall refuses: it belongs to another company.");
  // Every action has its answer, and a field has its own.
  await owner.click('//option[starts-with(., "Dana Achterberg")]');
  await owner.seesText("Dana Achterberg sees it, 9 of 10 fields.");
  await owner.seesText("hidden: line 4 does not list it");
  await owner.click('//nav[@aria-label="What they would do"]/a[starts-with(., "Change")]');
  await owner.seesText("Dana Achterberg may not change it.");
  await owner.seesText("No grant lets the person's roles change Signs.");
  await owner.click('//select[@name="field"]/option[.="Unit cost"]');
  await owner.seesText(/2 of \d+ may change its Unit cost\./);
});

it("who sees a field: asked at the top of Access, answered with the grants and the people", async () => {
  await owner.go(office("/access"));
  await owner.click('//select[@id="who-sees"]/optgroup[@label="Signs"]/option[.="Signs: Unit cost"]');
  await owner.seesText("Who sees Unit cost of Signs");
  await owner.seesText("Project lead and Workshop may see, add, change, remove and export Signs.");
  expect(await owner.texts("tbody tr td:first-child")).toEqual(["Ines Fairlough", "Tobias Renn"]);
});

/** Drafts a grant that shows signs to onlookers, whole. */
async function showSignsToOnlookers(): Promise<void> {
  await owner.go(office("/access/grants/new?table=signs"));
  await owner.click("//label[normalize-space()='Onlooker']/input");
  await owner.press("Show all");
  await owner.press("Keep in the draft");
  await owner.seesText("Onlooker may see Signs.");
}

it("a filter is a tree, counted while it is made; its mistakes stand beside their cause", async () => {
  await owner.go(office("/access/grants/new?table=signs"));
  await owner.click("//label[normalize-space()='Onlooker']/input");
  await owner.press("Show all");
  await owner.press("Add a test");
  await choose("Field", "Stage");
  await choose("Comparison", "is any of");
  await owner.press("Keep in the draft");
  await owner.seesText("Stage: give a value to compare with.");
  for (const stage of ["Fitted", "Proof"]) await owner.click(`//fieldset[@aria-label='Values']//label[normalize-space()='${stage}']/input`);
  await owner.seesText(/Matches \d+ of 1,239 Signs/);
  const matched = /Matches (\d+) of/.exec(await owner.text())![1];
  // A group inside: none of one site, chosen by its name.
  await owner.press("Add a group");
  const inner = "fieldset.border-l-3";
  await owner.click(`${inner} select option[value="none"]`);
  await owner.choose(`${inner} select[aria-label="Field"]`, "Site");
  await owner.click(`${inner} select[aria-label="Compared with"] option[value="literal"]`);
  await owner.keys(`${inner} input[aria-label="Find a record by name"]`, "butter");
  await owner.until(async () => (await owner.texts("[role=option]")).join() === "Butter hall");
  await owner.click("[role=option]");
  await owner.until(async () => {
    const now = /Matches (\d+) of/.exec(await owner.text())?.[1];
    return now !== undefined && now !== matched;
  });
  await owner.press("Keep in the draft");
  await owner.seesText("Onlooker may see Signs where Stage is any of “Fitted” or “Proof” and not (Site is Butter hall)");
});

it("the fields of every grant on a table are picked in one grid", async () => {
  await owner.go(office("/access"));
  await owner.click("//h3[normalize-space()='Projects']/ancestor::section[1]//a[normalize-space()='Fields']");
  await owner.seesText("Fields of Projects");
  expect(await owner.count("input[aria-label^='Margin % may be set by Onlooker']")).toBe(0); // a grant that adds nothing sets nothing
  await owner.click("input[aria-label^='Summary is seen by Onlooker']");
  await owner.press("Keep in the draft");
  await owner.seesText("All fields but Company, Project lead, Margin %.");
  await owner.press("Undo");
  await owner.seesText("Only Title, Stage, Due.");
});

it("the impact of the draft is told before it is published: who gains what, and nobody across companies", async () => {
  await showSignsToOnlookers();
  await owner.go(office("/publish"));
  await owner.seesText("Impact");
  const text = await owner.text();
  expect(text).toMatch(/Sees \d+ more, such as/);
  expect(text).not.toContain("Records would be seen across companies.");
  expect(text).toContain("others see what they saw.");
});

it("a wall that would let companies see each other's records is called out first, and undone", async () => {
  await owner.go(office("/access"));
  await owner.choose('select[aria-label="Wall of Requests"]', { begins: "Shared" });
  await owner.seesText("Draft, not yet published");
  await owner.until(async () => {
    await owner.go(office("/publish"));
    return (await owner.text()).includes("Records would be seen across companies.");
  });
  expect(await owner.text()).toMatch(
    /Saltmarsh Infirmary Group \(Lead\) would see \d+ of Requests that belong to other companies, such as/,
  );
  await owner.press("Undo");
  await owner.until(async () => !(await owner.text()).includes("Records would be seen across companies."));
  await owner.press("Redo");
  await owner.seesText("Records would be seen across companies.");
  await owner.press("Undo");
  await owner.until(async () => !(await owner.text()).includes("Records would be seen across companies."));
});

it("roles: made with what another has, refused in a circle, copied with their grants, retired when nobody holds them", async () => {
  await owner.go(office("/access/roles/new"));
  await owner.type("#name", "Lead");
  await owner.press("Keep in the draft");
  await owner.seesText("There is a role called Lead already.");
  await owner.keys("#name", ALL, "Night warden");
  await owner.click("//label[normalize-space()='Onlooker']/input");
  await owner.press("Keep in the draft");
  await owner.seesText("Nobody holds it. 0 grants name it; has all that Onlooker has.");
  await owner.go(office("/access/roles/member"));
  await owner.click("//label[normalize-space()='Night warden']/input");
  await owner.press("Keep in the draft");
  await owner.seesText("Member would include itself: Member, which includes Night warden, which includes Onlooker, which includes Member.");
  await owner.go(office("/access?by=role"));
  const row = (name: string): string => `//li[.//strong[normalize-space()='${name}']]`;
  await owner.click(`${row("Onlooker")}//button[.='Retire']`);
  await owner.seesText("hold the role Onlooker. Give them another role first.");
  await owner.click(`${row("Night warden")}//button[.='Copy']`);
  await owner.seesText("Night warden copy");
  await owner.click(`${row("Night warden")}//button[.='Retire']`);
  await owner.until(async () => (await owner.count(row("Night warden"))) === 0);
});

it("versions: published with a note, and an earlier one comes back as a draft", async () => {
  await owner.go(office("/access/roles/new"));
  await owner.type("#name", "Day warden");
  await owner.click("//label[normalize-space()='Onlooker']/input");
  await owner.press("Keep in the draft");
  await owner.seesText("Nobody holds it. 0 grants name it; has all that Onlooker has.");
  // "Show all" shows onlookers what a safeguard keeps from clients: publishing waits until it is mended.
  await showSignsToOnlookers();
  await owner.go(office("/publish"));
  await owner.seesText("No client reads Unit cost of Signs.");
  await owner.go(office("/access/fields/signs"));
  await owner.click("input[aria-label^='Unit cost is seen by Onlooker']");
  await owner.press("Keep in the draft");
  await owner.seesText("All fields but Unit cost.");
  await owner.go(office("/publish"));
  const before = Number(/Publish version (\d+)/.exec(await owner.text())![1]) - 1;
  await owner.type('input[name="note"]', "Onlookers see signs that stand");
  await owner.press(`Publish version ${before + 1}`);
  await owner.seesText(`Version ${before + 1} is live.`);
  await owner.seesText("Onlookers see signs that stand");
  await owner.press(`What version ${before + 1} changed`);
  await owner.seesText("“Onlookers see signs that stand”");
  await owner.seesText("Day warden is a new role, with all that Onlooker has.");
  await owner.seesText("Onlooker may see Signs.");
  await owner.go(office("/publish"));
  await owner.click(`//tr[td[1][normalize-space()='${before}']]//button`);
  await owner.seesText("Draft, not yet published");
  await owner.seesText("No longer sees");
  await owner.press(`Publish version ${before + 2}`);
  await owner.seesText(`Version ${before + 2} is live.`);
});

it("the agency's own people read their rules where they find nothing, the same whether the record exists or not; clients do not", async () => {
  const ines = await signedIn(port, "ines@fernhill.example");
  const all = (await ines.api("/tables/requests/records?limit=200")).json.records as { id: string; fields: { status: string } }[];
  const closed = all.find((x) => x.fields.status === "Closed")!.id;
  const tobias = await signedIn(port, "tobias@fernhill.example");
  const told = async (path: string): Promise<[number, string]> => {
    const answer = await tobias.get(path);
    // The words of the page, with what the framework writes around them.
    return [
      answer.status,
      /There is nothing here.*?<\/(section|script)>/s.exec(answer.text)?.[0].replaceAll(/[0-9a-f]{8}-[0-9a-f-]{27}/g, "") ?? "",
    ];
  };
  const hidden = await told(`/requests/${closed}`);
  expect(hidden[0]).toBe(404);
  expect(hidden[1]).toContain("Workshop may see Requests where Status is not “Closed”.");
  expect(await told("/requests/01a20929-0000-7000-8000-000000000000")).toEqual(hidden);
  // A list that is not open to them reads like one that does not exist.
  const closedList = await told("/invoices");
  expect(closedList[1]).toContain("No grant of your roles opens anything at this address.");
  expect(await told("/no-such-list")).toEqual(closedList);
  const dana = await signedIn(port, "dana@saltmarsh.example");
  expect((await dana.get(`/price-book/${closed}`)).text).not.toContain("What your roles may see");
});
