/** Where the server gives no answer, what was typed stays, one says so, and the same form can be sent again. */
import { Key } from "selenium-webdriver";
import { afterAll, beforeAll, beforeEach, expect, it } from "vitest";
import { type Browser, openBrowser } from "../support/browser";
import { signedIn } from "../support/client";
import { leave, signInAt, signInBeside, signInToOffice } from "../support/people";
import { ownServer } from "../support/server";

const { port } = await ownServer();
const office = (path: string): string => `http://localhost:${port}/portals/fernhill${path}`;
let owner: Browser;

beforeAll(async () => {
  owner = await openBrowser();
});
beforeEach(async () => {
  await leave(owner);
  await signInToOffice(owner, port);
});
afterAll(() => owner.close());

const sessionEnds = (): Promise<void> => owner.driver.manage().deleteAllCookies();

it("an editor: a role is named, the session ends, and the name is kept", async () => {
  await owner.go(office("/access/roles/new"));
  await owner.type("#name", "Typed with care");
  await sessionEnds();
  await owner.press("Keep in the draft");
  await owner.seesText("What you typed is still here");
  expect(await owner.attribute("#name", "value")).toBe("Typed with care");
  await signInBeside(owner, port);
  await owner.press("Keep in the draft");
  await owner.seesText("Nobody holds it. 0 grants name it");
});

it("publishing: the note that was typed stays beside the button", async () => {
  const note = 'input[name="note"]';
  await owner.go(office("/access/roles/new"));
  await owner.type("#name", "To be thrown away");
  await owner.press("Keep in the draft");
  await owner.seesText("Nobody holds it. 0 grants name it");
  await owner.go(office("/publish"));
  await owner.type(note, "Why this was changed");
  await sessionEnds();
  await owner.click(`form:has(${note}) button[type="submit"]`);
  await owner.seesText("What you typed is still here");
  expect(await owner.attribute(note, "value")).toBe("Why this was changed");
  await signInBeside(owner, port);
  await owner.press("Throw the draft away");
  await owner.seesText("there is no draft beside it");
});

it("a form of the back office: a person is added after signing in again, once", async () => {
  await owner.go(office("/people/new"));
  await owner.type("#name", "Quill Ambrose");
  await owner.type("#email", "quill@kestrel.example");
  await owner.choose("#company", "Kestrel Leisure Pools");
  await owner.click("//label[normalize-space(.)='Onlooker']/input");
  await sessionEnds();
  await owner.press("Add the person");
  await owner.seesText("What you typed is still here");
  expect(await owner.attribute("#name", "value")).toBe("Quill Ambrose");
  expect(await owner.attribute("//label[normalize-space(.)='Onlooker']/input", "checked")).toBe("true");
  await signInBeside(owner, port);
  await owner.press("Add the person");
  await owner.seesText("Quill Ambrose has been added.");
  await owner.go(office("/people?q=quill"));
  expect(await owner.count("//main//a[normalize-space(.)='Quill Ambrose']")).toBe(1);
});

it("see as: somebody chosen in vain can be chosen again", async () => {
  const choose = async (): Promise<void> => {
    await owner.press("See as…");
    await owner.keys("dialog[open] input[cmdk-input]", Key.chord(Key.CONTROL, "a"), "piers wold");
    await owner.click("//dialog[@open]//*[@cmdk-item][contains(., 'Piers Wold')]");
  };
  await owner.go(office("/brand"));
  await owner.press("See as…");
  await owner.keys("dialog[open] input[cmdk-input]", "piers wold");
  await owner.find("//dialog[@open]//*[@cmdk-item][contains(., 'Piers Wold')]");
  await sessionEnds();
  await owner.click("//dialog[@open]//*[@cmdk-item][contains(., 'Piers Wold')]");
  await owner.seesText("No answer came");
  await signInBeside(owner, port);
  await choose();
  await owner.seesText("You see the portal as Piers Wold");
  await owner.press("Back to the back office");
});

it("signing out where the session has ended already leads to the sign-in", async () => {
  await owner.go(office("/publish"));
  await sessionEnds();
  await owner.press("Sign out");
  await owner.until(async () => (await owner.driver.getCurrentUrl()).endsWith("/sign-in"));
});

it("in the portal: a request written while the line is down is sent when it is back", async () => {
  const portal = (path: string): string => `http://fernhill.localhost:${port}${path}`;
  await leave(owner);
  const line = (offline: boolean): Promise<unknown> =>
    owner.driver.setNetworkConditions({ offline, latency: 0, download_throughput: 1e9, upload_throughput: 1e9 });
  try {
    await signInAt(owner, portal("/sign-in"), "dana@saltmarsh.example");
    await owner.go(portal("/requests/new"));
    const subject = "//label[normalize-space(.)='Subject']/following::input[1]";
    await owner.keys(subject, "Written in the cellar");
    await line(true);
    await owner.press("Add the request");
    await owner.seesText("What you typed is still here");
    expect(await owner.attribute(subject, "value")).toBe("Written in the cellar");
    await line(false);
    await owner.press("Add the request");
    await owner.seesText("Your request has been added.");
    const api = await signedIn(port, "dana@saltmarsh.example");
    expect((await api.api("/tables/requests/records?q=in%20the%20cellar")).json.total).toBe(1);
  } finally {
    await line(false);
  }
});
