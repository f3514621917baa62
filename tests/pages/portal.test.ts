/** A client's day in the portal, in a real browser. */
import { afterAll, beforeAll, beforeEach, expect, it } from "vitest";
import { type Browser, openBrowser } from "../support/browser";
import { signedIn } from "../support/client";
import { enter, leave, signInAt } from "../support/people";
import { ownServer } from "../support/server";

const { port } = await ownServer();
const at = (path: string): string => `http://fernhill.localhost:${port}${path}`;
let b: Browser;
beforeAll(async () => {
  b = await openBrowser();
});
beforeEach(() => enter(b, port, "dana@saltmarsh.example"));
afterAll(() => b.close());

it("an address opened signed out leads to sign-in and back to it; the form never returns", async () => {
  await leave(b);
  await b.go(at("/signs?is.type=Totem"));
  await b.seesText("Sign in to go on to the page you asked for.");
  await b.type("#email", "dana@saltmarsh.example");
  await b.type("#password", "wrong");
  await b.press("Sign in");
  await b.seesText("do not go together");
  expect(await b.attribute("#email", "value")).toBe("dana@saltmarsh.example"); // nothing typed is lost
  await b.type("#password", "dana-reads-every-sign");
  await b.press("Sign in");
  await b.until(async () => (await b.driver.getCurrentUrl()).endsWith("/signs?is.type=Totem"));
  await b.go(at("/sign-in"));
  await b.seesText("Welcome, Dana.");
  expect(await b.driver.getCurrentUrl()).toBe(at("/"));
  // WCAG 2.2, 2.5.8: a target is 24 CSS pixels high.
  expect(
    await b.driver.executeScript("return [...document.querySelectorAll('button')].find((x) => x.innerText === 'Sign out').offsetHeight"),
  ).toBeGreaterThanOrEqual(24);
});

it("lists search, sort, filter and page, all in the address", async () => {
  await b.go(at("/signs"));
  await b.seesText("1 to 50 of 308");
  const asked = await b.driver.executeScript("return performance.getEntriesByType('resource').map((e) => e.name)");
  expect((asked as string[]).filter((url) => url.includes("_rsc"))).toEqual([]); // no link is fetched before it is followed
  await b.press("Next page");
  await b.seesText("51 to 100 of 308");
  await b.go(at("/signs?q=SA-105"));
  await b.seesText("1 to 1 of 1");
  await b.go(at("/signs?q=zzz"));
  await b.seesText("Nothing matches");
  await b.go(at("/signs?sort=-code"));
  expect((await b.texts("tbody a"))[0]).toBe("SA-408");
  expect(await b.attribute("th[aria-sort]", "aria-sort")).toBe("descending");
  expect(await b.attribute("a[download]", "href")).toContain("sort=-code"); // the file is in the order that is seen
  expect(await b.attribute('meta[name="description"]', "content")).toBe("Signs in the portal of Fernhill Wayfinding.");
});

it("the tab of the list at hand is marked, also after going there without loading the page anew", async () => {
  await b.go(at("/"));
  for (const name of ["Projects", "Signs", "Home"]) {
    await b.press(name);
    await b.until(async () => (await b.texts('nav [aria-current="page"]'))[0] === name);
  }
});

it("a record sheet shows the visible fields and what points to it", async () => {
  await b.go(at("/projects"));
  await b.press("Entrance and arrival");
  await b.seesText("Project lead");
  await b.seesText("Ines Fairlough"); // of the agency, and shown to clients
  const text = await b.text();
  expect(text).not.toContain("Margin");
  expect(text).toContain("Signs");
  await b.click('a[href*="/signs?of=project:"]');
  await b.seesText("Project: Entrance and arrival");
});

it("a request is added through the form; bad input stands beside its field and nothing is lost", async () => {
  await b.go(at("/requests/new"));
  const ids = await b.driver.executeScript<Record<string, string>>(
    "return Object.fromEntries([...document.querySelectorAll('label')].map(l => [l.textContent.replace(' (optional)', ''), l.htmlFor]))",
  );
  await b.type(`[id="${ids.Message}"]`, "The lamp over the door is out.");
  await b.press("Add the request");
  await b.seesText("Subject is needed.");
  expect(await b.attribute(`[id="${ids.Message}"]`, "value")).toBe("The lamp over the door is out.");
  await b.driver.executeScript(`document.getElementById('${ids.Subject}').value = 'x'.repeat(1000000)`);
  await b.press("Add the request");
  await b.seesText("1,000,000 characters long; at most 1,000 fit");
  await b.driver.executeScript(`document.getElementById('${ids.Subject}').value = ''`);
  await b.type(`[id="${ids.Subject}"]`, "Lamp out");
  await b.press("Add the request");
  await b.seesText("Your request has been added.");
  await b.seesText("Dana Achterberg"); // asked by, filled in by the system
});

it("signing out ends it", async () => {
  await b.go(at("/"));
  await b.press("Sign out");
  await b.seesText("You are signed out");
  await b.go(at("/signs"));
  await b.seesText("Sign in");
});

it("what a plan does not include shows as one sentence with the way to the plans", async () => {
  await leave(b);
  await signInAt(b, at("/sign-in"), "ivo@northgale.example");
  await b.seesText("Your company's plan has ended");
  await b.go(at("/signs"));
  await b.press("See the plans");
  await b.seesText("Northgale Airfield is on Essential, which ended");
  await b.press("Sign out");
  await signInAt(b, at("/sign-in"), "maud@wexcombe.example");
  await b.go(at("/requests"));
  await b.seesText("come with repair history, which your company's plan does not include.");
});

it("a person of two companies acts for one at a time, and changes between them", async () => {
  await leave(b);
  await signInAt(b, at("/sign-in"), "sunniva@pellquay.example");
  await b.seesText("Pell & Quay Ferries");
  expect(await b.text()).not.toContain("Projects");
  await b.keys("#membership", "Brindle");
  await b.press("Change");
  await b.seesText("Projects"); // an onlooker there
  await b.go(at("/projects"));
  await b.seesText("1 to 3 of 3");
  expect(await b.text()).not.toContain("Signs");
  // A form opened for the one company is not stored for the other, to which another window has changed.
  await b.keys("#membership", "Pell");
  await b.press("Change");
  await b.go(at("/requests/new"));
  await b.keys("//label[normalize-space(.)='Subject']/following::input[1]", "For the ferries alone");
  const first = await b.driver.getWindowHandle();
  await b.driver.switchTo().newWindow("tab");
  await b.go(at("/"));
  await b.keys("#membership", "Brindle");
  await b.press("Change");
  await b.seesText("Projects");
  await b.driver.switchTo().window(first);
  await b.press("Add the request");
  await b.seesText("You act for Brindle");
  await b.seesText("What you wrote is kept; change back, then send it again.");
  for (const email of ["wren@brindle.example", "rafe@pellquay.example"])
    expect((await (await signedIn(port, email)).api("/tables/requests/records?q=ferries%20alone")).json.total).toBe(0);
});

it("the way back after signing in never leads to another site", async () => {
  for (const to of ["//evil.example", "/\\evil.example", "https://evil.example/", "/%09/evil.example"]) {
    await leave(b);
    await signInAt(b, at(`/sign-in?to=${encodeURIComponent(to)}`), "rafe@pellquay.example");
    expect(new URL(await b.driver.getCurrentUrl()).host).toBe(`fernhill.localhost:${port}`);
  }
});
