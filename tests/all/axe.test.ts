/**
 * axe (WCAG 2.2 A and AA) on every page of the demo, wide and narrow: no serious or critical finding. Long lists are looked at
 * by a few of their rows, which are all alike.
 */
import type { AxeResults } from "axe-core";
import axe from "axe-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { contrast } from "@/core/brand/contrast";
import { type Browser, openBrowser } from "../support/browser";
import { signedIn } from "../support/client";
import { enter, leave, signInToOffice } from "../support/people";
import { ownServer } from "../support/server";

const { port } = await ownServer();
let b: Browser;
const WIDTHS = [
  [1280, 800],
  [390, 844],
] as const;
let ids: Record<string, string> = {};

beforeAll(async () => {
  b = await openBrowser();
  const dana = await signedIn(port, "dana@saltmarsh.example");
  const first = async (table: string): Promise<string> => (await dana.api(`/tables/${table}/records?limit=1`)).json.records[0].id;
  ids = {
    project: await first("projects"),
    proof: await first("proofs"),
    sign: await first("signs"),
    request: await first("requests"),
    invoice: await first("portal-invoices"),
    person: (await dana.api("/me")).json.person.id,
    company: (await dana.api("/me")).json.company.id,
  };
});
afterAll(() => b.close());

async function findings(): Promise<string[]> {
  const violations = await b.driver.executeAsyncScript<AxeResults["violations"]>(
    `const [tags, done] = arguments;
     axe.run(document, { runOnly: { type: "tag", values: tags }, resultTypes: ["violations"], preload: false }).then((r) => done(r.violations));`,
    ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"],
  );
  return violations
    .filter((v) => v.impact === "serious" || v.impact === "critical")
    .map(
      (v) =>
        `${v.id}: ${v.nodes
          .map((n) => `${n.target.join(" ")} (${n.any[0]?.message ?? n.failureSummary})`)
          .slice(0, 3)
          .join("; ")}`,
    );
}

/** Pages of the office are looked at on a narrow screen in `test:long` alone: a clean run stays under a quarter of an hour. */
const OFFICE_WIDTHS = process.env.ELKHORN_LONG === "1" ? WIDTHS : WIDTHS.slice(0, 1);

/** Every third page of many that are made of the same parts; all of them in `test:long`. */
const some = (paths: string[]): string[] => (process.env.ELKHORN_LONG === "1" ? paths : paths.filter((_, i) => i % 3 === 0));

/** Loads a page once and looks at it wide and narrow. */
async function fine(url: string, widths: readonly (readonly [number, number])[] = WIDTHS): Promise<void> {
  const found: string[] = [];
  await b.size(...WIDTHS[0]);
  await b.go(url);
  await b.driver.executeScript(axe.source);
  for (const [width, height] of widths) {
    await b.size(width, height);
    found.push(...(await findings()).map((f) => `at ${width}: ${f}`));
    const tooWide = await b.driver.executeScript<number>(
      "return document.documentElement.scrollWidth > window.innerWidth + 1 ? document.documentElement.scrollWidth : 0",
    );
    if (tooWide) found.push(`at ${width} it is ${tooWide} wide`);
  }
  expect(found).toEqual([]);
}

/** Addresses name a record by its kind; ids are known when the demo is there. */
const filled = (path: string): string => path.replace(/<(\w+)>/g, (_, kind: string) => ids[kind]!);

describe("portal", () => {
  const at = (path: string): string => `http://fernhill.localhost:${port}${filled(path)}`;
  describe("signed out", () => {
    beforeAll(() => leave(b));
    it.each(some(["/", "/sign-in", "/standards", "/plans", "/link/none", "/-/forgotten", "/-/join", "/nothing/here"]))("%s", (path) =>
      fine(at(path)),
    );
  });
  describe("signed in as a lead", () => {
    beforeAll(() => enter(b, port, "dana@saltmarsh.example"));
    it.each(
      some([
        "/",
        "/signs?q=SA-10",
        "/signs?q=zzz",
        "/requests",
        "/requests/new",
        "/plans",
        "/people",
        "/projects/<project>",
        "/proofs/<proof>/change",
        "/new-password",
        "/-/me",
        "/-/company",
        "/requests/<request>",
        "/request-board",
        "/due-dates",
        "/photographs",
        "/-/search?q=sign",
        "/-/billing",
        "/-/buy?price=standard-month&seats=1",
        "/-/invoices/<invoice>",
      ]),
    )("%s", (path) => fine(at(path)));
  });
});

/** The rest of the kinds of section on one page, and all of it once more in a look of the night. */
describe("portal, dark", () => {
  const at = (path: string): string => `http://fernhill.localhost:${port}${filled(path)}`;
  const office = (path: string): string => `http://localhost:${port}/portals/fernhill${path}`;
  beforeAll(async () => {
    await leave(b);
    await b.size(...WIDTHS[0]);
    await signInToOffice(b, port);
    await b.go(office("/pages"));
    await b.press("New page");
    await b.type("input[name=name]", "All kinds");
    await b.press("Make it");
    await b.seesText("Nothing stands on it yet.");
    for (const [i, kind] of ["Text", "Links", "Notice", "Search", "Form", "Plan", "Door"].entries()) {
      await b.press("The page itself");
      await b.press("Add");
      await b.click(`//button[.//span[.='${kind}']]`);
      await b.until(async () => (await b.count("ol[aria-label='Sections of this page'] > li")) === i + 1);
    }
    await b.go(office("/brand"));
    await b.press("Observatory");
    await b.press("Keep in the draft");
    await b.seesText("Draft, not yet published");
    await b.go(office("/publish"));
    await b.click("//button[starts-with(., 'Publish version')]");
    await b.seesText("is live.");
  }, 120_000);
  it("what the browser draws goes by the ground; the focus is seen on the filled head (WCAG 2.2, success criterion 1.4.11)", async () => {
    await enter(b, port, "dana@saltmarsh.example");
    await b.go(at("/"));
    await b.driver.executeScript("document.querySelector('header a[href$=\"/-/me\"]').focus({ focusVisible: true })");
    const [scheme, outline, width, head] = await b.driver.executeScript<[string, string, string, string]>(`
      const [me, head] = [getComputedStyle(document.activeElement), getComputedStyle(document.querySelector("header"))];
      return [getComputedStyle(document.documentElement).colorScheme, me.outlineColor, me.outlineWidth, head.backgroundColor];`);
    expect([scheme, width]).toEqual(["dark", "2px"]);
    const hex = (rgb: string): string =>
      `#${rgb
        .match(/\d+/g)!
        .slice(0, 3)
        .map((n) => Number(n).toString(16).padStart(2, "0"))
        .join("")}`;
    expect(contrast(hex(outline), hex(head))).toBeGreaterThan(3);
  });
  it.each(["/sign-in", "/standards", "/all-kinds"])("signed out: %s", async (path) => {
    await leave(b);
    await fine(at(path));
  });
  it.each(
    some([
      "/",
      "/signs?q=SA-10",
      "/proofs?q=zzz",
      "/projects/<project>",
      "/proofs/<proof>",
      "/requests/<request>",
      "/request-board",
      "/due-dates",
      "/photographs",
      "/all-kinds",
    ]),
  )("signed in: %s", async (path) => {
    await enter(b, port, "dana@saltmarsh.example");
    await fine(at(path));
  });
});

describe("back office", () => {
  const at = (path: string): string => `http://localhost:${port}${filled(path)}`;
  it("its sign-in", async () => {
    await leave(b);
    await fine(at("/sign-in"));
  });
  describe("every step", () => {
    beforeAll(() => signInToOffice(b, port));
    it.each(
      some([
        "",
        "/data",
        "/data/signs?q=SA-10",
        "/data/signs/new",
        "/data/import",
        "/data/projects/move",
        "/data/signs/shape",
        "/connections/systems",
        "/connections/systems/new",
        "/connections/keys",
        "/connections/keys/new",
        "/connections/webhooks/new",
        "/people",
        "/people/new",
        "/people/new-company",
        "/people/<person>",
        "/people/doors",
        "/people/joining",
        "/people/waiting",
        "/people/outbox",
        "/people/outbox/words",
        "/log",
        "/access",
        "/access/grants/g_15",
        "/access/grants/new?table=signs",
        "/pages",
        "/pages/home",
        "/-/preview/home?as=visitor",
        "/brand",
        "/plans",
        "/access?by=role",
        "/access/roles/new",
        "/access/fields/signs",
        "/access/fields/signs/unit-cost",
        "/access/roles/manager",
        "/sightlines?company=Saltmarsh+Infirmary+Group",
        "/findings",
        "/safeguards",
        "/safeguards?who=person&must=count+exactly&table=signs&n=1",
        "/check/signs/<sign>",
        "/sightlines/compare?one=<person>&other=visitor",
        "/check",
        "/check/signs?as=<person>&q=SA-10",
        "/plans/money",
        "/plans/companies/<company>",
        "/rehearsal",
        "/-/preview-plans?price=priority-month&seats=1",
        "/publish",
        "/publish/3",
        "/-/staff",
        "/-/you",
      ]),
    )("%s", (path) =>
      fine(
        at(path === "" ? "/" : path.startsWith("/-/") && !path.startsWith("/-/preview") ? path : `/portals/fernhill${path}`),
        OFFICE_WIDTHS,
      ),
    );
  });
});
