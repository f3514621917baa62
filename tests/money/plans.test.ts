/** What is sold, and what follows from having paid: in the back office, and at once in the portal. */
import { afterAll, beforeAll, expect, it } from "vitest";
import { answersOwnerAlone, caughtActions, holdActions } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { Client, signedIn } from "../support/client";
import { signInAt, signInToOffice } from "../support/people";
import { ownServer } from "../support/server";

const { port } = await ownServer();
const library = (path: string): string => `http://library.localhost:${port}${path}`;
const office = (path: string, portal = "fernhill"): string => `http://localhost:${port}/portals/${portal}${path}`;
let b: Browser;
let owner: Browser;

beforeAll(async () => {
  [b, owner] = await Promise.all([openBrowser(), openBrowser()]);
  await signInToOffice(owner, port);
});
afterAll(() => Promise.all([b.close(), owner.close()]));

const details = async (client: Client): Promise<{ fields: Record<string, unknown> }[]> =>
  (await client.api("/tables/details/records?limit=100")).json.records;

it("before a plan there is the unpaid role alone; paid outside, all of it opens at the next click, and shuts when it lapses", {
  timeout: 120_000,
}, async () => {
  const ebbe = await signedIn(port, "ebbe@twoladders.example", "library.localhost");
  const opened = async (): Promise<number> => (await details(ebbe)).filter((x) => "load" in x.fields).length;
  expect([(await details(ebbe)).length, await opened()]).toEqual([24, 6]);
  expect((await ebbe.api("/me")).json.roles.map((r: { id: string }) => r.id)).toEqual(["newcomer"]);
  await signInAt(b, library("/sign-in"), "ebbe@twoladders.example");
  await b.go(library("/plans"));
  await b.seesText("€11.00 a seat and month");
  // A lock names the plans, and shows nothing of what is behind it.
  await b.go(library("/details"));
  await b.seesText("Opens with Bench or Crew");
  expect(await b.count("//li[contains(., 'Opens with')]//dt[.='Load']")).toBe(0);
  await b.click("//li[contains(., 'Opens with')]//h2/a");
  await b.seesText("More of this opens with Bench or Crew.");
  await owner.go(office("/plans", "library"));
  const set = async (plan: string, state: string, until: string): Promise<void> => {
    await owner.click("//tr[contains(., 'Two Ladders')]//button[contains(., 'Change')]");
    await owner.choose("//tr[contains(., 'Two Ladders')]//label[starts-with(., 'Plan')]/select", plan);
    await owner.choose("//tr[contains(., 'Two Ladders')]//label[starts-with(., 'It is')]/select", { begins: state });
    await owner.driver.executeScript(
      `const el = [...document.querySelectorAll("tr")].find((r) => r.innerText.includes("Two Ladders")).querySelector("input[type=date]");
       Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set.call(el, "${until}"); el.dispatchEvent(new Event("input", { bubbles: true }));`,
    );
  };
  const later = new Date(Date.now() + 40 * 86_400_000).toISOString().slice(0, 10);
  await set("Crew", "paid", later);
  await owner.press("Set it now");
  await owner.seesText("Say why, in a few words");
  await owner.type("//tr[contains(., 'Two Ladders')]//input[@placeholder]", "paid by bank transfer");
  await holdActions(owner);
  await owner.press("Set it now");
  await owner.until(async () => (await caughtActions(owner)).length === 1);
  const asked = await caughtActions(owner);
  // Nobody but the owner's post does it; theirs does.
  await answersOwnerAlone(port, owner, asked, "/portals/library/plans", /"ok":true/);
  expect([await opened(), (await details(ebbe)).length]).toEqual([24, 24]);
  await b.go(library("/plans"));
  await b.seesText("Your plan");
  await b.go(library("/details"));
  await b.seesText("kN");
  expect(await b.text()).not.toContain("Opens with");
  await owner.go(office("/log", "library"));
  await owner.seesText("paid by bank transfer");
  await owner.go(office("/plans", "library"));
  await set("Crew", "lapsed", "");
  await owner.type("//tr[contains(., 'Two Ladders')]//input[@placeholder]", "bounced");
  await owner.press("Set it now");
  await owner.until(async () => (await opened()) === 6);
  // The agency's own people need none.
  const ines = await signedIn(port, "ines@fernhill.example", "library.localhost");
  expect((await details(ines)).filter((x) => "load" in x.fields)).toHaveLength(24);
});

it("a price is added as it is written, in the portal's currency; a published one is retired; clients read what is published", {
  timeout: 120_000,
}, async () => {
  await owner.go(office("/plans"));
  const card = "//article[@aria-label='Essential']";
  await owner.click(`${card}//button[contains(., 'New price')]`);
  const form = async (amount: string): Promise<void> => {
    await owner.type(`${card}//label[starts-with(., 'Amount')]/input`, amount);
    await owner.click(`${card}//button[.='Keep in the draft']`);
  };
  await form("€5");
  await owner.seesText("another currency");
  await form("95");
  await owner.seesText("There are two of the price of Essential a month: retire one of them.");
  await owner.choose(`${card}//label[starts-with(., 'For')]/select`, "each seat");
  await form("12.50");
  await owner.seesText("£12.50 a seat and month");
  await owner.click(`(${card}//button[contains(., 'Retire')])[1]`);
  await owner.seesText("Offer it again");
  await owner.go(office("/publish"));
  await owner.seesText("Essential at £12.50 a seat and month.");
  await owner.seesText("is retired: who pays it keeps it.");
  const anon = new Client(port, "fernhill.localhost");
  expect((await anon.get("/plans")).text).not.toContain("12.50");
  await owner.click("//button[starts-with(., 'Publish version')]");
  await owner.seesText("is live.");
  const page = (await anon.get("/plans")).text;
  expect([page.includes("£12.50"), page.includes("£90.00")]).toEqual([true, false]);
});

it("whoever works on support has no plans to set", async () => {
  const hester = await openBrowser();
  try {
    await signInAt(hester, `http://localhost:${port}/sign-in`, "hester@fernhill.example", "hester-answers-the-bell");
    await hester.go(office("/plans"));
    await hester.until(async () => !(await hester.driver.getCurrentUrl()).endsWith("/plans"));
  } finally {
    await hester.close();
  }
});
