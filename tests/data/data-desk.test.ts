/** From four files of an invented trade to tables that are right, in a portal made here: nothing is rewritten by hand. */
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, it } from "vitest";
import { type Browser, openBrowser } from "../support/browser";
import { signInToOffice } from "../support/people";
import { ownServer } from "../support/server";

const { port } = await ownServer();
const folder = mkdtempSync(join(tmpdir(), "elkhorn-desk-"));
const office = (path: string): string => `http://localhost:${port}/portals/orchards${path}`;
let owner: Browser;

beforeAll(async () => {
  owner = await openBrowser();
  await signInToOffice(owner, port);
  await owner.go(`http://localhost:${port}/`);
  await owner.type("#name", "Orchards");
  await owner.type("#slug", "orchards");
  await owner.press("Make the portal");
  await owner.seesText("Orchards");
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
  await owner.seesText("Check all rows");
}
const value = (label: string): Promise<string> => owner.attribute(`//*[@aria-label="${label}"]`, "value");

const GROWERS = "Grower,Region,Hectares\nHarbour Lights,North,12.5\nPell Orchards,South,8\n";
const BLOCKS =
  "Town,Block name,Grower,Planted,Value\nWexcombe,Long Row,Harbour Lights,1998,£1.250,50\n".replace("£1.250,50", '"£1,250.50"') +
  "Wexcombe,Old Wall,Pell Orchards,1914,£90\nTarn,Far End,Harbour Lites,2003,£12\n\nTarn,Mill,Harbour Lights,2011,$5\n";

it("companies first: a file of growers goes into Companies, with its further columns as fields", async () => {
  await drop("growers.csv", GROWERS);
  await owner.choose("//label[contains(.,'Into')]//select", "Companies");
  await owner.until(async () => (await value("Where Region goes")) === "new", "the columns were not proposed anew");
  await owner.press("Check all rows");
  await owner.seesText("New\n2");
  await owner.press("Bring in 2 new records");
  await owner.seesText("12.5");
});

it("a new table is called by its names, never by the town; what is near is asked about; money stays money", async () => {
  await drop("blocks.csv", BLOCKS);
  expect(await owner.text()).toContain("One blank row is passed over.");
  expect(await owner.attribute("//label[contains(.,'is called by')]//select", "value")).toBe("1");
  expect(await value("What Grower points to")).toBe("t_companies");
  expect(await value("Type of Planted")).toBe("number");
  // Two currencies in one column are no money until somebody says so.
  expect(await value("Type of Value")).toBe("text");
  await owner.choose('//*[@aria-label="Type of Value"]', "Money");
  await owner.press("Check all rows");
  await owner.seesText("Did you mean Harbour Lights?");
  await owner.seesText("“$5” is in another currency: this field is in GBP.");
  await owner.choose('//*[@aria-label="What Harbour Lites means"]', "Yes: Harbour Lights");
  await owner.press("Check again with these");
  await owner.seesText("New\n3");
  await owner.press("Change the mapping");
  await owner.seesText("Known again by");
  await owner.choose('//*[@aria-label="Type of Value"]', { begins: "Text" });
  await owner.press("Check all rows");
  await owner.seesText("New\n4"); // and not the mapping again
  await owner.press("Bring in 4 new records");
  await owner.seesText("Long Row");
  expect(await owner.text()).toContain("1914");
});

it("people from a file, with their company and role; the same file again changes nothing", async () => {
  const people =
    "Full name,E-mail,Grower,Telephone\nAda Pell,ada@pell.example,Pell Orchards,020 7946 0000\nBo Lights,bo@lights.example,Harbour Lights,020 7946 0001\n";
  await drop("people.csv", people);
  expect(await owner.attribute("//label[contains(.,'Into')]//select", "value")).toBe("t_people");
  await owner.press("Check all rows");
  await owner.seesText("New\n2");
  await owner.press("Bring in 2 new records");
  await owner.seesText("ada@pell.example");
  await drop("people-again.csv", people.replace("0000", "0009"));
  await owner.press("Check all rows");
  await owner.seesText("Changed\n1");
  await owner.seesText("Telephone in one record.");
  await owner.press("Change one record");
  await owner.seesText("020 7946 0009");
});

it("pasted rows, and an import taken back as one act", async () => {
  await owner.go(office("/data/import"));
  await owner.click("//summary[contains(.,'paste rows')]");
  await owner.type('[aria-label="Pasted rows"]', "Ref,Block\nV1,Long Row\nV2,Mill\n");
  await owner.press("Read these rows");
  await owner.seesText("Check all rows");
  await owner.type("//label[contains(.,'Its name')]//input", "Visits");
  expect(await owner.text()).toContain("Each company sees its own");
  await owner.press("Check all rows");
  await owner.press("Bring in 2 new records");
  await owner.seesText("V2");
  await owner.go(office("/data"));
  await owner.press("Pasted rows.tsv");
  await owner.press("Take this import back");
  await owner.seesText("This import was taken back");
  await owner.go(office("/data"));
  expect(await owner.text()).not.toContain("Visits");
});

it("what came in is said, and taken back right there; rows that stayed out are had afterwards, mended and dropped as they are", async () => {
  const visits = "No,Place,Hours\nV1,Hut,2\nV2,Barn,two\nV3,Barn,3\n";
  const bring = async (): Promise<void> => {
    await drop("visits.csv", visits);
    await owner.choose('//*[@aria-label="Type of Hours"]', { begins: "Number" });
    await owner.press("Check all rows");
    await owner.press("Bring in 2 new records");
    await owner.seesText("It is in: 2 new. One row stayed out.");
  };
  await bring();
  await owner.press("Take it back");
  await owner.seesText("It is taken back: all is as it was before.");
  expect(await owner.count("//table//a[.='Visits']")).toBe(0);
  await bring();
  await owner.go(office("/data"));
  await owner.press("visits.csv");
  await owner.seesText("One row stayed out.");
  const at = await owner.attribute("//a[contains(., 'Download as CSV')]", "href");
  const read = `return await (await fetch(${JSON.stringify(at)})).text()`;
  const told = (await owner.driver.executeScript<string>(read)).replace("\ufeff", "");
  expect(told).toContain("3,Hours,“two” is not a number.,V2,Barn,two");
  await drop("rows-with-problems.csv", told.replace("Barn,two", "Barn,4"));
  await owner.seesText("not brought in");
  await owner.press("Check all rows");
  await owner.press("Bring in the one new record");
  await owner.seesText("V2");
  expect(await owner.count("tbody tr")).toBe(3);
});

it("a field is added, renamed and given another type: what does not convert is said before anything changes", async () => {
  await owner.go(office("/data/blocks/shape"));
  await owner.type("#name", "Rows");
  await owner.choose("#type", "Text");
  await owner.press("Add it");
  await owner.seesText("Rows is added.");
  await owner.press("Rows");
  await owner.seesText("Fill it where it is empty");
  await owner.type("//label[contains(.,'The value')]//input", "about 12");
  await owner.press("Fill it");
  await owner.seesText("4 records are filled.");
  await owner.choose("//label[contains(.,'It is to hold')]//select", "Number");
  await owner.press("Try it");
  await owner.seesText("0 convert, 4 do not.");
  await owner.seesText("“about 12” is not a number.");
  await owner.press("Change the type");
  await owner.seesText("0 values are converted.");
  await owner.type("#name", "How many rows");
  await owner.press("Keep");
  await owner.seesText("Kept.");
  await owner.go(office("/data/blocks/shape"));
  expect(await owner.texts("tbody td:first-child")).toEqual(expect.arrayContaining(["How many rows", "Rows (before)"]));
  await owner.press("Put Rows (before) away");
  await owner.seesText("Rows (before) is put away.");
  await owner.press("Bring back");
  await owner.until(async () => (await owner.texts("tbody td:first-child")).includes("Rows (before)"));
});

it("choices of a column that repeats: renamed everywhere; one that goes says what its records get", async () => {
  await owner.go(office("/data/blocks/shape"));
  await owner.press("Town");
  await owner.choose("//label[contains(.,'It is to hold')]//select", "Choice");
  await owner.press("Try it");
  await owner.seesText("It becomes 2 choices.");
  await owner.press("Change the type");
  await owner.seesText("Another choice");
  await owner.press("Take Tarn away");
  await owner.choose("//label[contains(.,'with “Tarn” get')]//select", "Wexcombe");
  await owner.type('[aria-label="Choice 1"]', "Great Wexcombe");
  await owner.press("Keep the choices");
  await owner.seesText("4 records");
  await owner.go(office("/data/blocks"));
  expect((await owner.text()).match(/Great Wexcombe/g)).toHaveLength(4);
});

it("a table of another's shape; put away it names what goes, and it comes back", async () => {
  await owner.go(office("/data"));
  await owner.press("New table");
  await owner.type("#name", "Old blocks");
  await owner.type("#singular", "Old block");
  await owner.choose("#like", "Blocks, without its records");
  await owner.press("Make the table");
  await owner.seesText("Shape of Old blocks");
  await owner.press("Put this table away…");
  await owner.seesText("0 records");
  await owner.press("Put Old blocks away");
  await owner.seesText("It stands under Data, from where it can be brought back.");
  await owner.press("Bring Old blocks back");
  await owner.until(async () => (await owner.texts("tbody td:first-child")).includes("Old blocks"));
});

it("a removal says what points to it and asks; it stands in the bin and comes back from there", async () => {
  await owner.go(office("/data/import"));
  await owner.click("//summary[contains(.,'paste rows')]");
  await owner.type('[aria-label="Pasted rows"]', "Ref,Block\nV1,Mill\n");
  await owner.press("Read these rows");
  await owner.seesText("Check all rows");
  await owner.press("Check all rows");
  await owner.press("Bring in the one new record");
  await owner.seesText("V1");
  await owner.go(office("/data/blocks?q=Mill"));
  await owner.press("Remove this block");
  await owner.seesText("points to it, and would point to nothing");
  await owner.press("Remove it all the same");
  await owner.seesText("Block Mill is removed.");
  await owner.go(office("/data/-/bin"));
  await owner.press("Bring Mill back");
  await owner.seesText("Nothing in the bin");
  await owner.go(office("/data/blocks?q=Mill"));
  await owner.seesText("Mill");
});

it("the grid: a block is pasted, filled down and undone; several records are set at once; columns and views are kept", async () => {
  const row = (n: number): string => `R${n},Harbour Lights,${n}`;
  await drop("rows.csv", `Row,Grower,Metres\n${Array.from({ length: 1500 }, (_, i) => row(i)).join("\n")}\n`);
  await owner.press("Check all rows");
  await owner.press("Bring in 1,500 new records");
  await owner.seesText("1,500 records");
  await owner.go(office("/data/rows?sort=metres"));
  const cell = (r: number, c: number): Promise<string> =>
    owner
      .find(`[data-cell="${r} ${c}"]`)
      .then(async (el) => (await el.getText()).replace(/^[^:]*:\s*/, "").replace(/\s*, (change|set by Elkhorn)$/, ""));
  const clipboard = (text: string): Promise<unknown> =>
    owner.driver.executeScript(
      "const d = new DataTransfer(); d.setData('text/plain', arguments[0]); document.activeElement.dispatchEvent(new ClipboardEvent('paste', { clipboardData: d, bubbles: true, cancelable: true }))",
      text,
    );
  await owner.driver.executeScript(`document.querySelector('[data-cell="0 0"]').focus()`);
  await clipboard("First\tPell Orchards\t7\nSecond\tharbour lights\tmany\n");
  await owner.seesText("“many” is not a number.");
  await owner.until(async () => (await cell(0, 0)) === "First" && (await cell(1, 0)) === "Second");
  expect([await cell(0, 1), await cell(0, 2), await cell(1, 1), await cell(1, 2)]).toEqual(["Pell Orchards", "7", "Harbour Lights", "1"]);
  // Fill down from the first cell over three rows, then take it back.
  await owner.driver.executeScript(`document.querySelector('[data-cell="0 2"]').focus()`);
  const { Key } = await import("selenium-webdriver");
  await owner.driver.switchTo().activeElement().sendKeys(Key.chord(Key.SHIFT, Key.ARROW_DOWN));
  await owner.driver.switchTo().activeElement().sendKeys(Key.chord(Key.SHIFT, Key.ARROW_DOWN));
  await owner.driver.switchTo().activeElement().sendKeys(Key.chord(Key.CONTROL, "d"));
  await owner.until(async () => (await cell(2, 2)) === "7");
  await owner.press("Undo (2)");
  await owner.until(async () => (await cell(2, 2)) === "2");
  // Far down: the rows are there as soon as they are looked at.
  await owner.driver.executeScript("document.querySelector('.grid-frame').scrollTop = 1e9");
  await owner.until(async () => (await owner.count('[data-cell="1499 0"]')) === 1);
  expect(await cell(1499, 0)).toBe("R1499");
  await owner.driver.executeScript("document.querySelector('.grid-frame').scrollTop = 0");
  // Several at once: what it does to who sees them is said first, once the wall holds.
  await owner.click('[aria-label="Choose row 1"]');
  await owner.click('[aria-label="Choose row 3"]');
  await owner.seesText("2 records:");
  await owner.choose("//form[@aria-label='Several records']//select", "Metres");
  await owner.type('[aria-label="The value"]', "99");
  await owner.press("Set it");
  await owner.until(async () => (await cell(0, 2)) === "99" && (await cell(2, 2)) === "99");
  await owner.press("Choose none");
  // A filter of the column's own, in a link that can be shared; then as a view that everybody in the office finds.
  await owner.press("Filter by Metres");
  await owner.choose('[aria-label="Comparison"]', "is at least");
  await owner.type('form[aria-label="Filter by Metres"] input', "1498");
  await owner.press("Show these");
  await owner.until(async () => (await owner.driver.getCurrentUrl()).includes("at-least"));
  await owner.seesText("2 records");
  await owner.press("Columns and views");
  await owner.click("//label[normalize-space(.)='Grower']/input");
  await owner.until(async () => (await owner.count("//th[contains(.,'Grower')]")) === 0);
  await owner.type('[aria-label="Name of the view"]', "The longest");
  await owner.press("Keep this view");
  await owner.until(async () => (await owner.count("//a[normalize-space()='The longest']")) === 1);
  await owner.go(office("/data/rows"));
  await owner.until(async () => (await owner.count("//th[contains(.,'Grower')]")) === 0, "how the grid was left was not kept");
  await owner.press("Columns and views");
  await owner.press("The longest");
  await owner.seesText("2 records");
});
