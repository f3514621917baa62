/** Other systems: connected, chosen from, mapped, filled, kept up to date; what is wrong there changes nothing here. */
import { Key } from "selenium-webdriver";
import { afterAll, beforeAll, expect, it } from "vitest";
import { itemBy, putItem, setFaults } from "../../src/ledger-room/store";
import { answersOwnerAlone, catchActions, caughtActions } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { signInToOffice } from "../support/people";
import type { Postgres } from "../support/postgres";
import { ownServer } from "../support/server";
import { databaseWithEquipment, roomWithDeals } from "../support/systems";

const { port, data } = await ownServer();
const systems = `http://localhost:${port}/portals/fernhill/connections/systems`;
let b: Browser;
let db: Postgres;
let room: Awaited<ReturnType<typeof roomWithDeals>>;

beforeAll(async () => {
  [db, room, b] = await Promise.all([databaseWithEquipment(), roomWithDeals(), openBrowser()]);
  await signInToOffice(b, port);
}, 60_000);
afterAll(async () => {
  await b.close();
  await Promise.all([db.stop(), room.close()]);
});

it("a database is connected, a table of it mapped and brought in, and kept up to date; the password is nowhere", async () => {
  await b.go(`${systems}/new`);
  await b.click("//label[contains(., 'PostgreSQL')]/input");
  await b.type("#system-name", "Workshop records");
  await b.type("#system-host", "localhost");
  await b.type("#system-port", "1");
  await b.type("#system-database", "records");
  await b.type("#system-user", "elkhorn");
  await b.type("#system-password", "reads-only-42");
  await b.type("#system-tls", "off");
  await b.press("Connect");
  await b.seesText("could not be reached");
  await b.type("#system-port", String(db.port));
  await catchActions(b);
  await b.press("Connect");
  await b.seesText("Choose what comes in");
  const page = new URL(await b.driver.getCurrentUrl()).pathname;
  await b.press("See what there is");
  await b.click('button[aria-label="Bring equipment in"]');
  await b.seesText("Pantograph");
  await b.press("Check all rows");
  await b.press("Bring in 3 new records");
  await b.seesText("Equipment");
  await b.go(`http://localhost:${port}${page}`);
  await b.seesText("Fresh");
  await b.choose("//select[starts-with(@id, 'every-')]", "Every hour");
  await b.press("Save");
  await b.seesText("Saved.");
  await db.query(
    "INSERT INTO equipment VALUES ('EQ-4', 'Band saw', '2025-01-02', 300); UPDATE equipment SET name = 'Old kiln' WHERE tag = 'EQ-3'",
  );
  await b.press("Read it now");
  await b.until(async () => {
    await b.go(`http://localhost:${port}${page}`);
    await b.click("//summary[contains(., 'The last readings')]");
    return (await b.text()).includes("the same");
  });
  await b.seesText("1 added, 1 changed, 2 the same");
  await b.click("//li[contains(., '1 added, 1 changed')]/a");
  // What became of each row: which is new, and which says something else than before.
  await b.seesText(/Changed\s+\S[\s\S]*before Kiln, now Old kiln[\s\S]*Added/);
  const reading = new URL(await b.driver.getCurrentUrl()).pathname;
  await b.go(`http://localhost:${port}${reading.replace(/\d+$/, "99999")}`);
  expect(await b.text()).toContain("nothing at this address");
  await b.go(`http://localhost:${port}${page}`);
  await db.query("ALTER TABLE equipment RENAME COLUMN name TO called");
  await catchActions(b);
  await b.press("Read it now");
  await b.until(async () => {
    await b.go(`http://localhost:${port}${page}`);
    return (await b.text()).includes("Paused");
  });
  await b.seesText("“name” is not among its columns any more");
  const { readFileSync, readdirSync } = await import("node:fs");
  const { join } = await import("node:path");
  for (const f of readdirSync(join(data, "portals"))) expect(readFileSync(join(data, "portals", f)).includes("reads-only-42")).toBe(false);
  await catchActions(b);
  await b.press("Disconnect");
  await b.press("Disconnect Workshop records");
  await b.seesText("No other system yet");
  await answersOwnerAlone(port, b, await caughtActions(b), page, /"ok":/);
  await b.go(`http://localhost:${port}/portals/fernhill/data`);
  await b.seesText("Equipment");
});

const shows = (page: string, words: string): Promise<void> =>
  b.until(async () => {
    await b.go(page);
    return (await b.text()).includes(words);
  });

it("the Ledger Room is connected, mapped and filled; what is changed in either reaches the other, and what both changed is asked about", async () => {
  setFaults(room.db, {});
  await b.go(`${systems}/new`);
  await b.click("//label[contains(., 'The Ledger Room')]/input");
  await b.type("#system-name", "Client records");
  await b.type("#system-address", `http://localhost:${room.port}`);
  await b.type("#system-key", "ledger_wrong");
  await b.press("Connect");
  await b.seesText("does not let us in");
  await b.type("#system-key", room.key);
  await b.press("Connect");
  await b.seesText("Choose what comes in");
  const page = await b.driver.getCurrentUrl();
  await b.press("See what there is");
  await b.click('button[aria-label="Bring Deals in"]');
  await b.seesText("Kiln");
  await b.press("Check all rows");
  await b.press("Bring in 3 new records");
  await b.seesText("Deals");
  await b.go(page);
  await b.press("Read it now");
  await b.until(async () => {
    await b.go(page);
    await b.click("//summary[contains(., 'The last readings')]");
    return (await b.text()).includes("3 the same");
  });
  await b.click("//summary[contains(., 'What goes back')]");
  await b.choose("//li[label[starts-with(normalize-space(.), 'title')]]//select", "Comes in and goes back");
  await b.choose("//li[label[starts-with(normalize-space(.), 'stage')]]//select", "Comes in and goes back");
  await b.click("//label[contains(., 'Records made here')]/input");
  await catchActions(b);
  await b.press("Save what goes back");
  await b.seesText("Saved.");
  const asked = [...(await caughtActions(b))];
  const title = (): string => itemBy(room.db, "deals", "DE-0003")!.values.title!;
  const retitle = async (from: string, to: string): Promise<void> => {
    await b.go(`http://localhost:${port}/portals/fernhill/data/deals?q=${encodeURIComponent(from)}`);
    await b.seesText("title and stage go to Client records");
    await b.click(`//td//button[@data-cell][contains(., "${from}")]`);
    await b.keys('td input[aria-label="title"]', Key.chord(Key.CONTROL, "a"), `${to}\n`);
    await b.seesText(to);
  };
  await retitle("Kiln", "Large kiln");
  await b.until(async () => title() === "Large kiln");
  // Down for a while: nothing is lost, and it is said beside the record.
  setFaults(room.db, { status: 503 });
  await retitle("Large kiln", "Kiln for plates");
  await b.go(`http://localhost:${port}/portals/fernhill/data/deals`);
  await b.until(async () => {
    await b.driver.navigate().refresh();
    return (await b.count('tr a[aria-label^="A change has not arrived in another system"]')) === 1;
  });
  await shows(page, "answered 503");
  await b.click("//li[contains(., 'answered 503')]//a");
  await b.seesText("has not arrived in Client records");
  setFaults(room.db, {});
  await b.go(page);
  await b.press("Try them now");
  await b.until(async () => title() === "Kiln for plates");
  // Changed here and there, while nothing could go.
  setFaults(room.db, { status: 503 });
  await retitle("Kiln for plates", "Kiln of ours");
  await shows(page, "answered 503");
  putItem(room.db, "deals", "DE-0003", { title: "Kiln of theirs" }, 0);
  setFaults(room.db, {});
  await b.press("Try them now");
  await shows(page, "for you to decide");
  await b.seesText("Kiln of theirs");
  await catchActions(b);
  await b.click("//button[normalize-space(.)='Take theirs']");
  await b.seesText("comes in.");
  asked.push(...(await caughtActions(b)));
  await b.until(async () => {
    await b.go(`http://localhost:${port}/portals/fernhill/data/deals?q=Kiln`);
    return (await b.text()).includes("Kiln of theirs");
  });
  expect(title()).toBe("Kiln of theirs");
  await answersOwnerAlone(port, b, asked, new URL(page).pathname, /"ok":/);
});
