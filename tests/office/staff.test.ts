/** Staff of the back office: asked in, with a role that each page and each act asks for, and a second factor of their own. */
import { Secret, TOTP } from "otpauth";
import { afterAll, beforeAll, expect, it } from "vitest";
import { catchActions, caughtActions, post } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { Client } from "../support/client";
import { newStaff, signInAt, signInToOffice } from "../support/people";
import { mailComes } from "../support/post";
import { ownServer } from "../support/server";

const { port, data } = await ownServer();
const office = (path: string): string => `http://localhost:${port}${path}`;
let owner: Browser;
let b: Browser;
beforeAll(async () => {
  [owner, b] = await Promise.all([openBrowser(), openBrowser()]);
  await signInToOffice(owner, port);
});
afterAll(() => Promise.all([owner.close(), b.close()]));
/** Each story has somebody of its own, who is in `b`. */
async function supportIn(first: string): Promise<{ email: string; password: string }> {
  await b.driver.manage().deleteAllCookies();
  const who = { email: `${first.toLowerCase()}@fernhill.example`, password: `${first.toLowerCase()}-knows-every-bell` };
  await newStaff(owner, b, office, data, { name: `${first} Holm`, role: "Support", ...who });
  return who;
}
const cookieOf = async (of: Browser): Promise<string> =>
  (await of.driver.manage().getCookies()).map((c) => `${c.name}=${c.value}`).join("; ");

it("somebody is asked in by a link that works once, chooses a password, and sees what their role opens", { timeout: 120_000 }, async () => {
  await owner.go(office("/-/staff"));
  await owner.type("#name", "Berthe Holm");
  await owner.type("#email", "berthe@fernhill.example");
  await owner.choose("#new-role", "Support");
  await owner.press("Send a link");
  await owner.seesText("A link is on its way to berthe@fernhill.example.");
  const link = /https?:\S+\/-\/staff\/\S+/.exec(await mailComes(data, "berthe@fernhill.example"))![0];
  await b.go(link);
  await b.seesText("Welcome, Berthe Holm");
  await b.type("#password", "short");
  await b.press("Go in");
  await b.seesText("Use at least 15 characters.");
  await b.type("#password", "berthe-knows-every-bell");
  await b.press("Go in");
  await b.seesText("Your portals");
  const text = await b.text();
  expect([text.includes("A new portal"), text.includes("Who works here")]).toEqual([false, false]);
  expect((await new Client(port, "localhost").get(new URL(link).pathname)).text).toContain("This link does not open the door");
  await b.go(office("/portals/fernhill"));
  await b.seesText("People and companies");
  expect((await b.texts("nav[aria-label='Steps of the work'] a")).map((t) => t.split("\n")[1])).toEqual([
    "Data",
    "People and companies",
    "Check",
  ]);
  await b.go(office("/portals/fernhill/access"));
  await b.seesText("This part is not open to you");
});

it("what an owner posts is answered to nobody whose role does not open it; billing reads no record", { timeout: 120_000 }, async () => {
  const piet = await openBrowser();
  try {
    await supportIn("Dagny");
    await signInAt(piet, office("/sign-in"), "piet@fernhill.example", "piet-counts-the-coins-twice");
    const [support, billing] = [await cookieOf(b), await cookieOf(piet)];
    const get = (path: string, cookie: string) => new Client(port, "localhost").get(path, { headers: { cookie } });
    for (const path of [
      "/data",
      "/data/signs",
      "/people",
      "/people/outbox",
      "/log",
      "/log/csv",
      "/sightlines",
      "/check/signs",
      "/access",
      "/publish",
      "/people/named?q=a",
    ]) {
      const answer = await get(`/portals/fernhill${path}`, billing);
      expect([path, answer.status === 307 || answer.status === 404, /SA-101|dana@/.test(answer.text)]).toEqual([path, true, false]);
    }
    for (const path of [
      "/access",
      "/brand",
      "/publish",
      "/people/doors",
      "/people/joining",
      "/people/outbox/words",
      "/data/signs/shape",
      "/data/import",
      "/plans",
    ])
      expect([path, (await get(`/portals/fernhill${path}`, support)).headers.location]).toEqual([path, "/portals/fernhill/-/closed"]);
    for (const cookie of [support, billing]) expect((await get("/-/staff", cookie)).status).toBe(404);
    expect((await get("/portals/fernhill/data", support)).status).toBe(200);
    expect((await get("/portals/fernhill/plans", billing)).status).toBe(200);
    // Acts: a door changed, somebody given a role here, a person made inactive.
    await owner.go(office("/portals/fernhill/people/doors"));
    await catchActions(owner);
    await owner.press("Keep");
    await owner.seesText("It counts from the next sign-in on.");
    const doors = await caughtActions(owner);
    await owner.go(office("/-/staff"));
    await catchActions(owner);
    await owner.click("[aria-label='Give the role: Piet Lander']");
    await owner.seesText("Kept.");
    const staff = await caughtActions(owner);
    expect([doors.length, staff.length]).toEqual([1, 1]);
    const mine = await cookieOf(owner);
    for (const [a, page] of [
      [doors[0]!, "/portals/fernhill/people/doors"],
      [staff[0]!, "/-/staff"],
    ] as const) {
      expect((await post(port, a, mine, "localhost", page)).text).toContain('"done":');
      for (const cookie of [support, billing, ""]) expect((await post(port, a, cookie, "localhost", page)).text).not.toContain('"done":');
    }
    // A role counts at once, and who is out is out.
    await owner.click("[aria-label='Make inactive: Piet Lander']");
    await owner.until(async () => (await get("/portals/fernhill/plans", billing)).status === 307);
  } finally {
    await piet.close();
  }
});

it("a second factor of one's own is asked for after the password, and opens nothing before", { timeout: 120_000 }, async () => {
  const { email, password } = await supportIn("Eir");
  await b.go(office("/-/you"));
  await b.press("Set up an authenticator");
  const secret = (await b.find("main code").then((e) => e.getText())).replaceAll(" ", "");
  await b.type("#second-code", new TOTP({ secret: Secret.fromBase32(secret) }).generate());
  await b.press("Turn it on");
  await b.seesText("Keep these recovery codes");
  const [recovery] = await b.texts("main ul.font-mono li");
  await b.press("I have kept them");
  await b.press("Your portals");
  await b.press("Sign out");
  await signInAt(b, office("/sign-in"), email, password);
  await b.seesText("The second step");
  const half = await cookieOf(b);
  expect((await new Client(port, "localhost").get("/portals/fernhill/data", { headers: { cookie: half } })).headers.location).toContain(
    "/-/second",
  );
  await b.type("#code", "000000");
  await b.press("Go on");
  await b.seesText("This code is not right");
  await b.type("#code", recovery!);
  await b.press("Go on");
  await b.seesText("Your portals");
  expect(await cookieOf(b)).not.toBe(half);
});

it("staff come in by a passkey of their own, and by a link where they have forgotten the password", { timeout: 120_000 }, async () => {
  const { email: mine } = await supportIn("Gro");
  await b.driver.sendDevToolsCommand("WebAuthn.enable", {});
  const options = {
    protocol: "ctap2",
    transport: "internal",
    hasResidentKey: true,
    hasUserVerification: true,
    isUserVerified: true,
    automaticPresenceSimulation: true,
  };
  await b.driver.sendDevToolsCommand("WebAuthn.addVirtualAuthenticator", { options });
  await b.go(office("/-/you"));
  await b.press("Make a passkey");
  await b.until(async () => (await b.count("button[aria-label^='Take away the passkey']")) === 1);
  await b.go(office("/"));
  await b.press("Sign out");
  await b.go(office("/sign-in"));
  await b.press("A passkey");
  await b.seesText("Your portals"); // no second step: it is two factors in one
  await b.press("Sign out");
  await b.press("I have forgotten my password");
  const answers: string[] = [];
  for (const email of ["nobody@fernhill.example", mine]) {
    await b.go(office("/-/forgotten"));
    await b.type("#email", email);
    await b.press("Send me a link");
    await b.seesText("a link is on its way to it");
    answers.push((await b.text()).replace(email, ""));
  }
  expect(answers[0]).toBe(answers[1]);
  const link = /https?:\S+\/-\/staff\/\S+/.exec(await mailComes(data, mine, 1))![0];
  await b.go(link);
  await b.type("#password", "gro-found-another-bell");
  await b.press("Go in");
  await b.seesText("Your portals");
});
