/** The data desk beyond one file: files beside a table, words that become choices or a table, two who shape at once, and a move between companies. */
import { randomBytes } from "node:crypto";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { strToU8, zipSync } from "fflate";
import sharp from "sharp";
import { afterAll, beforeAll, expect, it } from "vitest";
import { type Browser, openBrowser } from "../support/browser";
import { signInToOffice } from "../support/people";
import { ownServer } from "../support/server";

const { port } = await ownServer();
const folder = mkdtempSync(join(tmpdir(), "elkhorn-more-"));
const office = (path: string): string => `http://localhost:${port}/portals/kilns${path}`;
let owner: Browser;

beforeAll(async () => {
  owner = await openBrowser();
  await signInToOffice(owner, port);
  await owner.go(`http://localhost:${port}/`);
  await owner.type("#name", "Kilns");
  await owner.type("#slug", "kilns");
  await owner.press("Make the portal");
  await owner.seesText("Kilns");
});
afterAll(async () => {
  await owner.close();
  rmSync(folder, { recursive: true, force: true });
});

const written = (name: string, content: string | Uint8Array): string => {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
};
async function drop(name: string, content: string): Promise<void> {
  await owner.go(office("/data/import"));
  await owner.keys("#file", written(name, content));
  await owner.seesText("Check all rows");
}

/** Whether so many of its pictures stand in the grid. */
const shown = (n: number) => async (): Promise<boolean> => (await owner.count("//td//img[@alt='tall.jpg']")) === n;

it("files that a table names come from a ZIP archive beside it", async () => {
  const picture = await sharp({ create: { width: 60, height: 40, channels: 3, background: "#96553c" } })
    .jpeg()
    .toBuffer();
  // Larger than one piece, and not to be made smaller.
  const noise = new Uint8Array(randomBytes(6 * 1024 * 1024));
  const zip = zipSync({ "shots/tall.jpg": new Uint8Array(picture), "care.txt": strToU8("Wash by hand."), "film.bin": noise });
  await drop(
    "vases.csv",
    "Vase,Client,Glaze,Photo\nTall,Harbour Lights,Celadon,tall.jpg\nFlat,Harbour Lights,celadon,\nDeep,Pell Ferries,Salt,deep.jpg\n",
  );
  await owner.choose('//*[@aria-label="Type of Photo"]', "Pictures");
  await owner.seesText("Drop a ZIP archive with the files that the table names");
  await owner.keys('[aria-label="ZIP archive with the files"]', written("shots.zip", zip));
  await owner.seesText("3 files");
  await owner.press("Check all rows");
  await owner.seesText("There is no file “deep.jpg” in the ZIP archive.");
  await owner.press("Bring in 2 new records");
  await owner.until(shown(1), "the picture is not there");
});

it("words that are no choices yet become some, if asked", async () => {
  await owner.go(office("/data/vases/shape"));
  await owner.press("Glaze");
  await owner.choose("//label[contains(.,'It is to hold')]//select", { begins: "Choice" });
  await owner.press("Try it");
  await owner.press("Change the type");
  await owner.seesText("Another choice");
  await drop("more vases.csv", "Vase,Glaze\nTall,Salt\nFlat,Celadn\n");
  await owner.choose("//label[contains(.,'Into')]//select", "Vases");
  await owner.until(async () => (await owner.attribute("//label[contains(.,'Known again by')]//select", "value")) === "0");
  await owner.press("Check all rows");
  await owner.seesText("Did you mean Celadon?");
  await owner.choose('//*[@aria-label="What Celadn means"]', "Yes: Celadon");
  await owner.click("//label[contains(.,'Make the others of Glaze in the choices of Glaze')]/input");
  await owner.press("Check again with these");
  await owner.seesText("The choices of Glaze: one will be made: Salt");
  await owner.press("Change one record");
  await owner.seesText("Salt");
});

it("a table is made of a column that repeats", async () => {
  await owner.go(office("/data/vases/shape"));
  await owner.press("Glaze");
  await owner.choose("//label[contains(.,'It is to hold')]//select", { begins: "Relation" });
  await owner.choose("//label[contains(.,'Pointing to')]//select", "a new table");
  expect(await owner.attribute(`//label[contains(.,"The new table's name")]//input`, "value")).toBe("Glazes");
  await owner.press("Try it");
  await owner.seesText("Made on the way: Salt, Celadon.");
  await owner.press("Change the type");
  await owner.seesText("2 values are converted.");
  await owner.go(office("/data/glazes"));
  await owner.seesText("2 records");
});

it("two who shape one table at once: the second is told, and loses nothing", async () => {
  const other = await openBrowser();
  try {
    await signInToOffice(other, port);
    const page = async (b: Browser): Promise<void> => {
      await b.go(office("/data/vases/shape"));
      await b.press("Photo");
      await b.seesText("Another type");
    };
    await page(owner);
    await page(other);
    await other.type("#name", "Photograph");
    await other.press("Keep");
    await other.seesText("Kept.");
    await owner.type("#name", "Pictures of it");
    await owner.press("Keep");
    await owner.seesText("Somebody changed this meanwhile.");
    expect(await owner.attribute("#name", "value")).toBe("Pictures of it");
    await owner.go(office("/data/vases/shape"));
    expect(await owner.texts("tbody td:first-child")).toContain("Photograph");
  } finally {
    await other.close();
  }
});

it("what a field of files held before is opened and put back", async () => {
  await owner.go(office("/data/vases?q=Tall"));
  await owner.until(shown(1));
  const edit = async (): Promise<void> => {
    await owner.click('[data-cell="0 3"]');
    await owner.until(async () => (await owner.count("//button[normalize-space()='Leave as it was']")) === 1);
  };
  await edit();
  await owner.press("Take away tall.jpg");
  await owner.press("Keep");
  await owner.until(shown(0));
  await edit();
  await owner.click("//summary[contains(.,'One file before')]");
  await owner.press("Put it back");
  await owner.press("Keep");
  await owner.until(shown(1));
});

it("records of one company are moved under another: who would see how many is said first, and it is undone", async () => {
  await owner.go(office("/publish"));
  await owner.press("Publish version 2");
  await owner.seesText("version 2 is live");
  // No row that came in named another company, so none was made.
  await owner.go(office("/people/new-company"));
  await owner.type("#name", "Pell Ferries");
  await owner.press("Add the company");
  await owner.seesText("The company has been added.");
  await owner.go(office("/data/vases"));
  await owner.press("Move to a company");
  await owner.choose("//label[contains(.,'All that belong to')]//select", "Harbour Lights, 2 vases");
  await owner.choose("//label[contains(.,'Go to')]//select", "Pell Ferries");
  await owner.press("See what it does");
  await owner.seesText("Nobody of either company sees more or fewer of them.");
  await owner.press("Move 2 vases");
  await owner.seesText("Pell Ferries has 2 vases more.");
  await owner.press("Undo");
  await owner.seesText("Harbour Lights has 2 vases back.");
});
