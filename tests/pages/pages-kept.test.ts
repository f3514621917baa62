/** What is typed while pages are laid out is kept, or said not to be: two people at one section, a menu, the steps and the end of a form. */

import { Key } from "selenium-webdriver";
import { afterAll, beforeAll, expect, it } from "vitest";
import { catchActions, caughtActions } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { inAnotherTab, signInToOffice } from "../support/people";
import { ownServer } from "../support/server";

const { port } = await ownServer();
const office = (path: string): string => `http://localhost:${port}/portals/fernhill${path}`;
let b: Browser;
beforeAll(async () => {
  b = await openBrowser();
  await signInToOffice(b, port);
});
afterAll(() => b.close());

async function newPage(name: string, kind: string): Promise<string> {
  await b.go(office("/pages"));
  await b.press("New page");
  await b.type("input[name=name]", name);
  await b.press("Make it");
  await b.seesText("Nothing stands on it yet.");
  await b.press("Add");
  await b.click(`//button[.//span[.='${kind}']]`);
  await b.until(async () => (await b.count("ol[aria-label='Sections of this page'] > li")) === 1);
  return b.driver.getCurrentUrl();
}
const SENTENCE = "//label[.='Sentence']/following-sibling::textarea";
/** What the editor posts from here on is waited for. */
async function keeps(what: () => Promise<unknown>): Promise<void> {
  await catchActions(b);
  await what();
  await b.until(async () => (await caughtActions(b)).length > 0);
  await b.until(async () => (await b.text()).includes("Kept in the draft"));
}
const select = () => b.click("ol[aria-label='Sections of this page'] > li button");

it("whoever changes a section second keeps what they chose, and puts it over the other's or takes that", async () => {
  const page = await newPage("Two at once", "Notice");
  await b.find(SENTENCE);
  await keeps(() => b.type(SENTENCE, "From the beginning."));
  const meanwhile = (words: string) =>
    inAnotherTab(b, async () => {
      await b.go(page);
      await select();
      await keeps(() => b.type(SENTENCE, words));
    });
  const now = async (): Promise<string> => {
    let text = "";
    await inAnotherTab(b, async () => {
      await b.go(page);
      await select();
      text = await b.attribute(SENTENCE, "value");
    });
    return text;
  };
  await meanwhile("From the other.");
  await b.type(SENTENCE, "From me.");
  await b.seesText("Somebody else changed this meanwhile. What you chose is still here");
  expect([await b.attribute(SENTENCE, "value"), await now()]).toEqual(["From me.", "From the other."]);
  await b.press("Put mine over it");
  await b.until(async () => !(await b.text()).includes("Somebody else changed this"));
  expect([await b.attribute(SENTENCE, "value"), await now()]).toEqual(["From me.", "From me."]);
  await meanwhile("Again from the other.");
  await b.type(SENTENCE, "Again from me.");
  await b.seesText("Somebody else changed this meanwhile.");
  await b.press("Take theirs");
  await b.until(async () => (await b.attribute(SENTENCE, "value")) === "Again from the other.");
});

it("an address that cannot be stays in its box with what is wrong; an emptied one keeps the box", async () => {
  await newPage("Addressed", "Text");
  await b.press("The page itself");
  const address = "//label[.='Address']/following-sibling::input";
  await b.type(address, "No Good");
  await b.seesText("Write the address in small letters, digits and hyphens. It is not in the draft yet.");
  expect(await b.attribute(address, "value")).toBe("No Good");
  await b.keys(address, Key.chord(Key.CONTROL, "a"), Key.BACK_SPACE);
  await b.seesText("would have the same address");
  await b.type(address, "well-addressed");
  await b.until(async () => !(await b.text()).includes("It is not in the draft yet."));
  await b.driver.navigate().refresh();
  await b.until(async () => (await b.attribute(address, "value")) === "well-addressed");
});

it("a menu entry is renamed by leaving its box for the button that takes another off: both are done", async () => {
  await b.go(office("/pages"));
  const rows = "section[aria-labelledby='menu'] li";
  await b.until(async () => (await b.count(rows)) > 3);
  const before = await b.count(rows);
  const first = `(//section[@aria-labelledby='menu']//li//input)[1]`;
  await b.keys(first, Key.chord(Key.CONTROL, "a"), "The beginning");
  await b.click("(//section[@aria-labelledby='menu']//button[contains(@aria-label, 'off the menu')])[3]");
  await b.until(async () => (await b.count(rows)) === before - 1);
  await b.driver.navigate().refresh();
  await b.until(async () => (await b.count(rows)) === before - 1);
  expect(await b.attribute(first, "value")).toBe("The beginning");
  await b.press("Undo"); // the taking off
  await b.until(async () => (await b.count(rows)) === before);
  await b.press("Undo"); // the name
  await b.until(async () => (await b.attribute(first, "value")) !== "The beginning");
});

it("the steps of a form are typed line by line; an address outside can be chosen for afterwards, and undo shows in its box", async () => {
  await newPage("Asked in steps", "Form");
  const steps = "//label[.='Steps']/following-sibling::textarea";
  await keeps(() => b.type(steps, "What\nWhere it is\nWhen"));
  expect(await b.attribute(steps, "value")).toBe("What\nWhere it is\nWhen");
  await b.choose("//label[.='Afterwards']/following-sibling::select", "an address outside");
  const address = "//label[.='Address']/following-sibling::input";
  await b.type(address, "http://plain.example");
  await b.seesText("An address begins with https://");
  await keeps(() => b.type(address, "https://thanks.example/one"));
  await keeps(() => b.type(address, "https://thanks.example/two"));
  await b.press("Undo");
  await b.until(async () => (await b.attribute(address, "value")) === "https://thanks.example/one");
  await b.driver.navigate().refresh();
  await select();
  await b.until(async () => (await b.attribute(steps, "value")) === "What\nWhere it is\nWhen");
  expect(await b.attribute(address, "value")).toBe("https://thanks.example/one");
});

it("a form that is done keeps no password; one that is not keeps what was typed", async () => {
  await b.go(office("/people/new"));
  const boxes = () => Promise.all(["#name", "#password", "#again"].map((x) => b.attribute(x, "value")));
  await b.type("#name", "Sunniva Tarn");
  await b.type("#email", "no address");
  await b.choose("#company", "Tarnmere College");
  await b.click("//summary[.='Set a first password for them']");
  for (const box of ["#password", "#again"]) await b.type(box, "sunniva-begins-with-this");
  await b.press("Add the person");
  await b.seesText("Write an e-mail address like");
  expect(await boxes()).toEqual(["Sunniva Tarn", "sunniva-begins-with-this", "sunniva-begins-with-this"]);
  await b.type("#email", "sunniva@tarnmere.example");
  await b.press("Add the person");
  await b.seesText("Sunniva Tarn has been added, with that password.");
  expect(await boxes()).toEqual(["", "", ""]);
});
