/** What the data desk posts and answers, tried by everybody else: imports, the bin, undo, the grid's rows and cells, the shape of tables. */
import { afterAll, beforeAll, expect, it } from "vitest";
import { published, storePublished } from "@/data/definition/published";
import { portalFile } from "@/data/file/open";
import { fillAutomatic } from "@/data/schema/fill";
import { addField } from "@/data/tables/change";
import { schemaOf } from "@/data/tables/read";
import { PUBLISHER, testViewer } from "@/testing/world";
import { answersOwnerAlone, catchActions, caughtActions } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { Client, signedIn } from "../support/client";
import { signInToOffice } from "../support/people";
import { ownServer } from "../support/server";

const { port, data } = await ownServer();
const office = (path: string): string => `http://localhost:${port}/portals/fernhill${path}`;
let owner: Browser;
beforeAll(async () => {
  owner = await openBrowser();
  await signInToOffice(owner, port);
});
afterAll(() => owner.close());

/** What actions of the desk answer: `problems` and `columns` of an import, `ok` of all others, `rows` of the grid. */
const SAID = /"ok":|"columns":|"problems":|"rows":/;

it("an import, and taking it back, answer the owner alone", { timeout: 120_000 }, async () => {
  await owner.go(office("/data/import"));
  await owner.click("//summary[contains(.,'paste rows')]");
  await owner.type('[aria-label="Pasted rows"]', "Ref,Client\nV1,Pell & Quay Ferries\nV2,Nobody\n");
  await owner.press("Read these rows");
  await owner.seesText("Check all rows");
  await catchActions(owner);
  await owner.choose("//label[contains(.,'Into')]//select", "Sites");
  await owner.choose("//label[contains(.,'Into')]//select", "A new table");
  await owner.until(async () => (await owner.count("//button[normalize-space()='Check all rows' and not(@disabled)]")) === 1);
  await owner.seesText("Its name");
  await owner.press("Check all rows");
  await owner.seesText("Names without a record");
  await owner.click("//label[contains(.,'Make the others')]/input");
  await owner.press("Check again with these");
  await owner.seesText(/New\s+2/);
  const page = new URL(await owner.driver.getCurrentUrl()).pathname;
  await owner.press("Bring in 2 new records");
  await owner.seesText("V2");
  const asked = await caughtActions(owner);
  expect(asked.length).toBeGreaterThanOrEqual(5);
  await answersOwnerAlone(port, owner, asked, page, SAID);
  await owner.go(`http://localhost:${port}${page}`);
  await catchActions(owner);
  await owner.press("Take this import back");
  await owner.seesText("This import was taken back");
  await answersOwnerAlone(port, owner, await caughtActions(owner), page, SAID);
});

it("the grid's cells, removals, views and the bin answer the owner alone", { timeout: 120_000 }, async () => {
  await owner.go(office("/data/sites"));
  await catchActions(owner);
  await owner.press("Columns and views");
  await owner.type('[aria-label="Name of the view"]', "Mine");
  await owner.press("Keep this view");
  await owner.until(async () => (await owner.count("//a[normalize-space()='Mine']")) === 1);
  await owner.click('[aria-label="Choose row 1"]');
  await owner.choose("//form[@aria-label='Several records']//select", "Address");
  await owner.type('[aria-label="The value"]', "Somewhere else");
  await owner.press("Set it");
  await owner.seesText("Somewhere else");
  await owner.click('(//button[@aria-label="Remove this site"])[1]');
  await owner.seesText("to it, and would point to nothing");
  await owner.press("Remove it all the same");
  await owner.seesText("is removed.");
  const asked = await caughtActions(owner);
  expect(asked.length).toBeGreaterThanOrEqual(4);
  await answersOwnerAlone(port, owner, asked, "/portals/fernhill/data/sites", SAID);
  await owner.go(office("/data/-/bin"));
  await catchActions(owner);
  await owner.click("(//button[starts-with(@aria-label, 'Bring ')])[1]");
  await owner.seesText("is back.");
  await answersOwnerAlone(port, owner, await caughtActions(owner), "/portals/fernhill/data/-/bin", SAID);
});

it("the shape of a table answers the owner alone", { timeout: 120_000 }, async () => {
  await owner.go(office("/data/signs/shape"));
  await catchActions(owner);
  await owner.press("Put Photo away");
  await owner.seesText("Photo is put away.");
  await owner.press("Bring back");
  await owner.until(async () => (await owner.count("//button[@aria-label='Put Photo away']")) === 1);
  await answersOwnerAlone(port, owner, await caughtActions(owner), "/portals/fernhill/data/signs/shape", SAID);
  await owner.press("Material");
  await owner.seesText("Another choice");
  await catchActions(owner);
  await owner.press("Keep the choices");
  await owner.seesText("The choices are kept.");
  await owner.choose("//label[contains(.,'It is to hold')]//select", "Text");
  await owner.press("Try it");
  await owner.seesText("convert, 0 do not");
  await owner.type("//label[contains(.,'The value')]//input", "Oak");
  await owner.press("Fill it");
  await owner.seesText("records are filled.");
  const page = new URL(await owner.driver.getCurrentUrl()).pathname;
  await answersOwnerAlone(port, owner, await caughtActions(owner), page, SAID);
});

it("moving records and what a field of files held before answer the owner alone; a ZIP of an import is taken from nobody else", {
  timeout: 120_000,
}, async () => {
  await owner.go(office("/data/projects/move"));
  await catchActions(owner);
  await owner.click("//label[contains(.,'All that belong to')]//option[contains(.,'Saltmarsh')]");
  await owner.click("//label[contains(.,'Go to')]//option[contains(.,'Pell')]");
  await owner.press("See what it does");
  await owner.seesText("Would see");
  await answersOwnerAlone(port, owner, await caughtActions(owner), "/portals/fernhill/data/projects/move", SAID);
  const file = portalFile("fernhill", false, data)!;
  const photo = schemaOf(file)
    .tableBySlug("signs")!
    .fields.find((f) => f.type === "pictures")!;
  const [sign, id] = file.db.prepare("SELECT record_id, id FROM sys_files WHERE field_id = ? LIMIT 1").raw().get(photo.id) as string[];
  file.db.prepare(`UPDATE "${photo.tableId}" SET "${photo.id}" = NULL WHERE id = ?`).run(sign);
  file.rest?.();
  const mine = (await owner.driver.manage().getCookies()).map((c) => `${c.name}=${c.value}`).join("; ");
  const people = await Promise.all(["dana@saltmarsh.example", "ines@fernhill.example"].map((e) => signedIn(port, e)));
  const before = `/-/files/${photo.tableId}/${sign}/${photo.id}/${id}/x`;
  expect((await new Client(port, "localhost").get(`/portals/fernhill${before}`, { headers: { cookie: mine } })).status).toBe(200);
  for (const who of [...people, new Client(port, "fernhill.localhost")]) expect((await who.get(before)).status).toBe(404);

  await owner.go(office("/data/import"));
  await owner.click("//summary[contains(.,'paste rows')]");
  await owner.type('[aria-label="Pasted rows"]', "Ref,Photo\nV9,a.jpg\n");
  await owner.press("Read these rows");
  await owner.seesText("Check all rows");
  const page = new URL(await owner.driver.getCurrentUrl()).pathname;
  const begin = (host: string, cookie: string, origin: string) =>
    new Client(port, host).call("POST", `${page}/files`, {
      raw: "",
      headers: { ...(cookie ? { cookie } : {}), origin, "upload-length": "10", "upload-metadata": "filename eC56aXA=" },
    });
  const home = `http://localhost:${port}`;
  for (const [host, cookie, origin] of [
    ["localhost", "", home],
    ["localhost", people[0]!.cookie, home],
    ["localhost", people[1]!.cookie, home],
    ["fernhill.localhost", people[0]!.cookie, `http://fernhill.localhost:${port}`],
    ["fernhill.localhost", mine, `http://fernhill.localhost:${port}`],
    ["localhost", mine, "http://elsewhere.example"],
  ] as const)
    expect([host, (await begin(host, cookie, origin)).status]).toEqual([host, expect.toSatisfy((x: number) => x === 401 || x === 404)]);
  expect((await begin("localhost", mine, home)).status).toBe(201);
});

it("rows of the grid come to the owner at the main host, and to nobody else anywhere", async () => {
  const cookie = (await owner.driver.manage().getCookies()).map((c) => `${c.name}=${c.value}`).join("; ");
  const path = "/portals/fernhill/data/signs/rows?chunk=1";
  const mine = await new Client(port, "localhost").get(path, { headers: { cookie } });
  expect([mine.status, mine.json.rows.length]).toEqual([200, 100]);
  const [dana, ines] = await Promise.all(["dana@saltmarsh.example", "ines@fernhill.example"].map((e) => signedIn(port, e)));
  for (const [host, held] of [
    ["localhost", ""],
    ["localhost", dana!.cookie],
    ["localhost", ines!.cookie],
    ["fernhill.localhost", dana!.cookie],
    ["fernhill.localhost", cookie],
  ] as const) {
    const answer = await new Client(port, host).get(path, { headers: held ? { cookie: held } : {} });
    expect([host, [401, 404].includes(answer.status), answer.text.includes('"rows"')]).toEqual([host, true, false]);
  }
});

it("a readable address, and what it was before, lead who sees it to the record, and tell others what they tell of none", async () => {
  const file = portalFile("fernhill", false, data)!;
  const sites = schemaOf(file).tableBySlug("sites")!;
  const madeFrom = sites.labelFieldId;
  const at = addField(file, sites.id, { slug: "at", name: "At", type: "readable-address", options: { madeFrom } });
  const [site, name] = file.db
    .prepare(
      `SELECT s.id, s."${madeFrom}" FROM "${sites.id}" s JOIN t_companies c ON c.id = s.company_id WHERE c.f_company_name LIKE 'Saltmarsh%'`,
    )
    .raw()
    .get() as [string, string];
  fillAutomatic(file, testViewer({ kind: "owner", company: null }) as never, at);
  const slug = file.db.prepare(`SELECT "${at}" FROM "${sites.id}" WHERE id = ?`).pluck().get(site) as string;
  file.db.prepare(`INSERT INTO sys_old_slugs SELECT ?, company_id, 'once-called', id FROM "${sites.id}" WHERE id = ?`).run(at, site);
  const [dana, rafe] = await Promise.all(["dana@saltmarsh.example", "rafe@pellquay.example"].map((e) => signedIn(port, e)));
  const ask = async (who: Client, path: string) => {
    const { status, headers, text } = await who.get(path);
    return [status, headers.location ?? null, text.includes(name)];
  };
  expect(await ask(dana!, `/sites/${slug}`)).toEqual([404, null, false]); // no grant shows it yet
  const d = published(file).definition;
  const shown = d.grants.map((g) => (g.table === sites.id && g.fields.length > 0 ? { ...g, fields: [...g.fields, at] } : g));
  storePublished(file, { ...d, grants: shown }, PUBLISHER);
  file.rest?.();
  expect(await ask(dana!, `/sites/${slug}`)).toEqual([200, null, true]);
  for (const path of [`/sites/${site}?saved=1`, `/sites/once-called?saved=1`, `/sites/${slug.toUpperCase()}?saved=1`])
    expect([(await ask(dana!, path)).slice(0, 2), path]).toEqual([[307, `/sites/${slug}?saved=1`], path]);
  for (const path of [slug, "once-called", site, "never-was"])
    expect((await ask(rafe!, `/sites/${path}`)).slice(0, 2)).toEqual([404, null]);
  const nobody = new Client(port, "fernhill.localhost");
  const signIn = (path: string) => [307, expect.stringMatching(new RegExp(`^/sign-in\\?to=%2Fsites%2F${path}`))];
  for (const path of [slug, "never-was"]) expect((await ask(nobody, `/sites/${path}`)).slice(0, 2)).toEqual(signIn(path));
});
