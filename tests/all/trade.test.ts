/** A portal of an invented trade, laid out from nothing: bell hangers, their towers' bells, and the days on which these are seen to. */
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, it } from "vitest";
import { type Browser, openBrowser } from "../support/browser";
import { Client } from "../support/client";
import { signInAt, signInToOffice } from "../support/people";
import { ownServer } from "../support/server";

const { port } = await ownServer();
const folder = mkdtempSync(join(tmpdir(), "elkhorn-trade-"));
const office = (path: string): string => `http://localhost:${port}/portals/cawdle${path}`;
const portal = (path: string): string => `http://cawdle.localhost:${port}${path}`;
let owner: Browser;
let b: Browser;

beforeAll(async () => {
  [owner, b] = await Promise.all([openBrowser(), openBrowser()]);
  await signInToOffice(owner, port);
});
afterAll(async () => {
  await Promise.all([owner.close(), b.close()]);
  rmSync(folder, { recursive: true, force: true });
});

async function bringIn(name: string, content: string): Promise<void> {
  const path = join(folder, name);
  writeFileSync(path, content);
  await owner.go(office("/data/import"));
  await owner.keys("#file", path);
  await owner.seesText("Check all rows");
  await owner.press("Check all rows");
  await owner.click("//button[starts-with(., 'Bring in')]");
}
const day = (n: number): string => new Date(Date.now() + n * 86_400_000).toISOString().slice(0, 10);
const box = (label: string, what: string): string => `//label[starts-with(normalize-space(.), '${label}')]/following-sibling::${what}`;
const add = async (kind: string): Promise<void> => {
  await owner.press("The page itself");
  await owner.press("Add");
  await owner.click(`//button[.//span[.='${kind}']]`);
  await owner.find(`//h2[.='${kind}']`);
};

it("the portal is made; companies, people and bells come from files, and each company is to see its own", {
  timeout: 120_000,
}, async () => {
  await owner.go(`http://localhost:${port}/`);
  await owner.type("#name", "Cawdle Bell Hangers");
  await owner.type("#slug", "cawdle");
  await owner.press("Make the portal");
  await owner.go(office("/data/import"));
  await bringIn("companies.csv", "Company,Deanery\nMinster of Oat Hill,North\nSaint Hobb in the Reeds,Fen\n");
  await owner.seesText("Saint Hobb in the Reeds");
  await bringIn(
    "people.csv",
    "First name,Surname,E-mail,Company\nAgnes,Tolley,agnes@oathill.example,Minster of Oat Hill\nHugh,Clapper,hugh@reeds.example,Saint Hobb in the Reeds\n",
  );
  await owner.seesText("agnes@oathill.example");
  const bells = ["Treble", "Second", "Third", "Tenor"].map(
    (name, i) =>
      `${name},${i % 2 ? "Saint Hobb in the Reeds" : "Minster of Oat Hill"},${300 + i * 210},${["Sound", "Rehang", "Sound", "Cracked"][i]},${day(i)}`,
  );
  await bringIn("bells.csv", `Bell,Company,Kilograms,State,Seen to\n${bells.join("\n")}\n`);
  await owner.seesText("Tenor");
});

it("a home is laid out: words, figures, a calendar and a chart, alive as they are put there", { timeout: 150_000 }, async () => {
  await owner.go(office("/pages/home"));
  await owner.seesText("The page itself");
  await add("Text");
  await owner.find(".ProseMirror");
  await owner.keys(".ProseMirror", "Ring the bells that we have hung.");
  await add("Figures");
  await add("List");
  await owner.choose(box("Records of", "select"), "Bells");
  await owner.choose(box("Look", "select"), { begins: "Calendar" });
  await add("Chart");
  await owner.until(async () => (await owner.count("ol[aria-label='Sections of this page'] > li")) >= 6);
  // Alive: what was put there stands in the page itself, as the person who was chosen finds it.
  const seen = async (): Promise<string> => {
    await owner.driver.switchTo().frame(await owner.find("iframe"));
    try {
      return await owner.driver.executeScript<string>("return document.body.innerText");
    } finally {
      await owner.driver.switchTo().defaultContent();
    }
  };
  await owner.until(async () => (await seen()).includes("Ring the bells that we have hung."));
});

it("a look of its own, a role given, and all of it published", { timeout: 120_000 }, async () => {
  await owner.go(office("/brand"));
  await owner.press("Orchard");
  await owner.type("//label[.='Motto']/following-sibling::input", "Hung true, rung round.");
  await owner.press("Keep in the draft");
  await owner.seesText("Draft, not yet published");
  await owner.go(office("/publish"));
  await owner.click("//button[starts-with(., 'Publish version')]");
  await owner.seesText("is live. It holds for everybody from their next click.");
  for (const name of ["Agnes Tolley", "Hugh Clapper"]) {
    await owner.go(office(`/people?q=${name.split(" ")[0]!.toLowerCase()}`));
    await owner.press(name);
    await owner.press("Invite with a temporary password");
    await owner.find("#invitation");
  }
});

it("a client comes in by it and finds what is theirs; another company's is not there, in any of the sections", {
  timeout: 120_000,
}, async () => {
  const password = (await owner.attribute("#invitation", "value")).trim().split("\n").pop()!;
  await signInAt(b, portal("/sign-in"), "hugh@reeds.example", password);
  await b.seesText("Choose a password");
  await b.type("#password", "six bells before breakfast");
  await b.press("Keep this password");
  await b.seesText("Ring the bells that we have hung.");
  await b.seesText("Tenor");
  const home = await b.text();
  expect(home).not.toContain("Write here.");
  expect([home.includes("Second"), home.includes("Treble"), home.includes("Oat Hill")]).toEqual([true, false, false]);
  expect(await b.driver.executeScript("return getComputedStyle(document.querySelector('h1, h2')).fontFamily")).toContain("Figtree");
  await b.go(portal("/bells"));
  await b.seesText("Tenor");
  expect(await b.count("tbody tr")).toBe(2);
  await b.size(390, 844);
  await b.go(portal("/"));
  await b.seesText("Ring the bells");
  expect(await b.driver.executeScript("return document.documentElement.scrollWidth <= window.innerWidth")).toBe(true);
  await b.size(1280, 800);
  // Whoever is signed out meets the door, and the words of the agency.
  const anon = await new Client(port, "cawdle.localhost").get("/bells");
  expect([anon.status, anon.headers.location]).toEqual([307, "/sign-in?to=%2Fbells"]);
});
