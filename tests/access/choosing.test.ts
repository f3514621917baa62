/** Records chosen by name in forms, the sheet and the grid, however many there are; what nobody touches is written by nobody. */
import { afterAll, beforeAll, expect, it } from "vitest";
import { published, storePublished } from "@/data/definition/published";
import { portalFile } from "@/data/file/open";
import { schemaOf } from "@/data/tables/read";
import { insertRow } from "@/data/tables/store";
import { MADE, PUBLISHER } from "@/testing/world";
import { catchActions, caughtActions, post } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { Client, signedIn } from "../support/client";
import { enter, signInToOffice } from "../support/people";
import { ownServer } from "../support/server";

const { port, data } = await ownServer();
const portal = (path: string): string => `http://fernhill.localhost:${port}${path}`;
const MANY = 900;
let b: Browser;
let owner: Browser;
let sign = "";
let site = "";

const box = (name: string): string => `//label[starts-with(normalize-space(.),'${name}')]/following-sibling::span//input[@role='combobox']`;

/** A company with more sites than any list shows at once; the site of the sign is the last of them. */
beforeAll(async () => {
  const file = portalFile("fernhill", false, data)!;
  const schema = schemaOf(file);
  const [sites, signs] = [schema.tableBySlug("sites")!, schema.tableBySlug("signs")!];
  const id = (t: typeof sites, slug: string): string => t.fields.find((f) => f.slug === slug)!.id;
  const company = file.db.prepare(`SELECT id FROM t_companies WHERE "f_company_name" LIKE 'Saltmarsh%'`).pluck().get() as string;
  file.db.transaction(() => {
    for (let i = 0; i < MANY; i++)
      insertRow(
        file,
        sites,
        `many-${i}`,
        { [id(sites, "name")]: `Ward ${String(i).padStart(4, "0")}`, [id(sites, "company")]: company },
        MADE,
      );
  })();
  site = "many-0";
  const row = file.db
    .prepare(`SELECT id FROM "${signs.id}" WHERE company_id = ? AND "${id(signs, "site")}" IS NOT NULL LIMIT 1`)
    .get(company);
  sign = (row as { id: string }).id;
  file.db.prepare(`UPDATE "${signs.id}" SET "${id(signs, "site")}" = ? WHERE id = ?`).run(site, sign);
  file.db.prepare(`UPDATE "${sites.id}" SET company_id = ? WHERE id LIKE 'many-%'`).run(company);
  const d = structuredClone(published(file).definition);
  for (const g of d.grants.filter(
    (x) => x.table === signs.id && x.roles.some((r) => r.includes("lead")) && x.fields.includes(id(signs, "site")),
  )) {
    if (!g.actions.includes("change")) g.actions.push("change");
    g.changes = [...new Set([...g.changes, id(signs, "site"), id(signs, "code")])];
  }
  storePublished(file, d, PUBLISHER);
  file.rest?.();
  [b, owner] = [await openBrowser(), await openBrowser()];
  await enter(b, port, "dana@saltmarsh.example");
  await signInToOffice(owner, port);
});
afterAll(async () => {
  await b.close();
  await owner.close();
});

const siteOf = async (): Promise<string> =>
  (await (await signedIn(port, "dana@saltmarsh.example")).api(`/tables/signs/records/${sign}`)).json.fields.site?.label;

it("another field is changed, and the relation stays what it is; it is changed by typing a part of a name", async () => {
  await b.go(portal(`/signs/${sign}/change`));
  expect(await b.attribute(box("Site"), "value")).toBe("Ward 0000");
  await b.type("//label[starts-with(normalize-space(.),'Code')]/following-sibling::input", "NEW-1");
  await b.press("Save");
  await b.until(async () => !(await b.driver.getCurrentUrl()).includes("/change"));
  expect(await siteOf()).toBe("Ward 0000");
  await b.go(portal(`/signs/${sign}/change`));
  await catchActions(b);
  await b.keys(box("Site"), "rd 0899");
  await b.until(async () => (await b.texts("[role=option]")).join() === "Ward 0899");
  await b.keys(box("Site"), "\uE007");
  await b.until(async () => (await b.attribute(box("Site"), "value")) === "Ward 0899");
  const [asked] = (await caughtActions(b)).filter((a) => typeof a.body === "string" && a.body.includes("0899"));
  await b.press("Save");
  await b.until(async () => !(await b.driver.getCurrentUrl()).includes("/change"));
  expect(await siteOf()).toBe("Ward 0899");
  // The search by hand: another company, a lesser role and somebody signed out find nothing of it.
  const others = [await signedIn(port, "rafe@pellquay.example"), new Client(port, "fernhill.localhost")];
  for (const who of others)
    expect((await post(port, asked!, who.cookie, "fernhill.localhost", `/signs/${sign}/change`)).text).not.toContain("Ward 0899");
  const mine = await signedIn(port, "dana@saltmarsh.example");
  expect((await post(port, asked!, mine.cookie, "fernhill.localhost", `/signs/${sign}/change`)).text).toContain("Ward 0899");
});

it("the grid finds any record by its name, and leaves the value where nothing is chosen", async () => {
  await owner.go(`http://localhost:${port}/portals/fernhill/data/signs?q=NEW-1`);
  const cell = "//td[contains(., 'Ward 0899')]";
  await owner.until(async () => (await owner.count(cell)) > 0);
  await owner.click(`${cell}//button`);
  const editor = "td input[role='combobox']";
  expect(await owner.attribute(editor, "value")).toBe("");
  await owner.keys(editor, "\uE00C", "\uE00C");
  await owner.until(async () => (await owner.count(editor)) === 0);
  expect(await siteOf()).toBe("Ward 0899");
  await owner.click(`${cell}//button`);
  await owner.keys(editor, "0777");
  await owner.until(async () => (await owner.texts("[role=option]")).join() === "Ward 0777");
  await owner.click("[role=option]");
  await owner.until(async () => (await owner.count("//td[contains(., 'Ward 0777')]")) > 0);
  expect(await siteOf()).toBe("Ward 0777");
});
